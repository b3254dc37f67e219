"""Rescheduling, calendars, agreed plans, drafts, replanning and plan files."""
