"""Agreed plans and drafts."""
