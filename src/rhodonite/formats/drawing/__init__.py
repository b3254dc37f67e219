"""Drawings on paper: marks on pages, and writers that turn the same pages into SVG, PDF and PNG."""
