"""People, their sessions and teams."""
