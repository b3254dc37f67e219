"""The made-up organisation. Nothing in it is real."""
