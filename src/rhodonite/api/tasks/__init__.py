"""Projects and tasks, what projects define, copies, repeats and CSV files."""
