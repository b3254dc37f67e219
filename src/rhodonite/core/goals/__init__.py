"""Goals: what is aimed at, how far it is, and what is said of it."""
