"""Simulated outside services. Each stands where a real one would, and says that it is the stand-in."""
