"""Who can be booked, and what is booked on them."""
