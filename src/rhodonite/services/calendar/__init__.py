"""Addresses that calendar programs follow."""
