"""How things stand: readings, horizon, progress, the desk and similar work."""
