"""Status reports: what is told about a project on a day."""
