"""Cost, budgets, expenses and invoice sheets."""
