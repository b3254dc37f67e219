"""People, sign-in, preferences and teams."""
