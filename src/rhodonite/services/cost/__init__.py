"""Cost: reckoned from bookings, entries and expenses; budgets; hours that are charged."""
