"""Rows of budgets, expenses and invoice sheets."""
