"""Projects and tasks: written down, changed, moved, copied, repeated, and as CSV."""
