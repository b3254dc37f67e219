"""Brief, task pages, activity and undo, search, similar work and the desk."""
