"""Capacity and load."""
