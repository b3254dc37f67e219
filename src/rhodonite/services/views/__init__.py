"""Views and sheets, over one project or all, and on paper."""
