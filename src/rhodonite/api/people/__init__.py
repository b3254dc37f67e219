"""Sign-in, people and teams."""
