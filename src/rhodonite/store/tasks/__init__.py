"""Projects, tasks and what projects define."""
