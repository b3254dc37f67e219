"""Views, sheets and printing."""
