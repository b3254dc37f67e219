"""Portfolios: projects and larger items managed together."""
