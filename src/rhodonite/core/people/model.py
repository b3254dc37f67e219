"""People and the teams that they belong to."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Person:
    """Someone who signs in, owns tasks and can be booked."""

    id: str
    name: str
    email: str
    role: str
    title: str
    colour: int
    active: bool
    can_sign_in: bool = False

    @property
    def short(self) -> str:
        """First name and the initial of the last: ``Tomas B.``"""
        parts = self.name.split()
        return f"{parts[0]} {parts[-1][0]}." if len(parts) > 1 else self.name


@dataclass(frozen=True, slots=True)
class Team:
    """A named group of people: ``people`` are their ids."""

    id: str
    name: str
    people: frozenset[str] = frozenset()
