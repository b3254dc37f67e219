"""Counts in words."""


def count_of(number: int, one: str, many: str | None = None) -> str:
    """``1 task``, ``3 tasks``, ``no tasks``."""
    return f"{number or 'no'} {one if number == 1 else many or one + 's'}"
