"""Time entries, timers and time sheets."""
