"""Counts in words."""


def count_of(number: int, one: str, many: str | None = None) -> str:
    """``1 task``, ``3 tasks``, ``no tasks``."""
    return f"{number or 'no'} {one if number == 1 else many or one + 's'}"


def one_line(text: str) -> str:
    """A text on one line, for where it stands among lines of ours: breaks and control characters become blanks."""
    return " ".join("".join(one if one.isprintable() else " " for one in text).split())
