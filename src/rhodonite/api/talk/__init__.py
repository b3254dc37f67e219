"""What hangs on tasks, and notices."""
