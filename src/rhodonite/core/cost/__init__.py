"""What work costs: planned, spent, still to come; budgets, earned value, invoice sheets."""
