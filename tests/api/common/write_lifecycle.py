"""Writes ``docs/lifecycle.md`` anew: ``PYTHONPATH=src:. .venv/bin/python -m tests.api.common.write_lifecycle``."""

from __future__ import annotations

from pathlib import Path

from .lifecycle import write_table

if __name__ == "__main__":
    (Path(__file__).parents[3] / "docs" / "lifecycle.md").write_text(write_table())
