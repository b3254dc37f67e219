"""What hangs on tasks, what is said of them, and who is told."""
