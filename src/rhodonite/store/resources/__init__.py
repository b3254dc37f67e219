"""Rows of who can be booked: capacities, absences, resources."""
