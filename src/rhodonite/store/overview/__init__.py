"""Search and similar work."""
