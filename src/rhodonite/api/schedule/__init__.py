"""Planning: calendars, drafts, ripples and plan files."""
