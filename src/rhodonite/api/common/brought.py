"""What comes of a table that was brought in."""

from __future__ import annotations

from pydantic import BaseModel, Field

from ...services.resources.tables import Brought
from .use import Use


class BroughtOut(BaseModel):
    """What came of a file."""

    added: int
    known: int = Field(description="Rows that were there already, and stay as they are")
    change: str = Field(description="To take it back by")


def brought_out(use: Use, found: Brought) -> BroughtOut:
    """How many rows came in, and by what that is taken back."""
    return BroughtOut(added=found.added, known=found.known, change=use.actor.change_id)
