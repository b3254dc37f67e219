"""People: who may do what, who asks, and what each has set."""
