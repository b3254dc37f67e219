"""Rhodonite: plan a team's project, run it, and report on it."""

__version__ = "0.1.0"
