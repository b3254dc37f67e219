"""Comments, files, checklists, relations and notices."""
