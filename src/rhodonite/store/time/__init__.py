"""Rows of time entries, timers and weeks that were handed in."""
