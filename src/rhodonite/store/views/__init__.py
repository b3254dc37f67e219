"""Sheets."""
