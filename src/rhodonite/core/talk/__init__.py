"""What hangs on tasks and what is said of them: comments, files, checklists, relations and notices."""
