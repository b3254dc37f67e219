"""Lenses, search and similar work."""
