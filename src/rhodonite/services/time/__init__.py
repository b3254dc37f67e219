"""Time: entered, counted by a timer, handed in by the week, reported."""
