"""Who asks, so that a condition can say “me” and “my team”."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field

ME = "me"
MY_TEAM = "my_team"
NOBODY = "nobody"


@dataclass(frozen=True, slots=True)
class Viewer:
    """The person who asks.

    Attributes:
        id: of the person.
        teams: of every team of the organisation the ids of its people.
    """

    id: str
    teams: Mapping[str, frozenset[str]] = field(default_factory=dict)

    @property
    def team(self) -> frozenset[str]:
        """Everybody in a team with the person, and the person."""
        return frozenset({self.id}).union(*(people for people in self.teams.values() if self.id in people))

    def people(self, words: Iterable[str]) -> frozenset[str]:
        """The ids that some words stand for: of people as they are, ``me``, ``my_team``, a team's id for its people."""
        found: set[str] = set()
        for word in words:
            if word == ME:
                found.add(self.id)
            elif word == MY_TEAM:
                found |= self.team
            else:
                found |= self.teams.get(word, {word})
        return frozenset(found)
