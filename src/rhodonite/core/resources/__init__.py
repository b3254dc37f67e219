"""Who does the work and in how many hours: capacity, bookings, load."""
