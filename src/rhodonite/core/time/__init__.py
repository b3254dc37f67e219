"""Hours that people really spent: entries, the timer, weeks that are handed in, and reports of them."""
