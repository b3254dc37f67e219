"""Who may see which projects, for as long as nobody's access changes: what live updates ask again and again."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime

from pymysql.cursors import Cursor

from ...core.people.access import project_role
from ...store.people import people as people_rows
from ...store.tasks import projects as project_rows


@dataclass(frozen=True, slots=True)
class Seen:
    """The access of everybody at one moment.

    Attributes:
        sessions: by the hash of a token the person, and until when it lasts.
        roles: in the organisation, of people who are active.
        members: by person their roles in projects.
        private: by project whether it is.
    """

    sessions: Mapping[bytes, tuple[str, datetime]]
    roles: Mapping[str, str]
    members: Mapping[str, Mapping[str, str]]
    private: Mapping[str, bool]

    def by(self, token_hash: bytes, at: datetime) -> frozenset[str] | None:
        """The ids of the projects that may be seen in a session; None where it has ended."""
        person_id, until = self.sessions.get(token_hash, ("", at))
        role = self.roles.get(person_id)
        if role is None or until <= at:
            return None
        mine = self.members.get(person_id, {})
        return frozenset(one for one, private in self.private.items() if project_role(role, mine.get(one), private))


def read_seen(cur: Cursor, at: datetime) -> Seen:
    """The access of everybody now."""
    members: dict[str, dict[str, str]] = defaultdict(dict)
    for person_id, project_id, role in project_rows.all_members(cur):
        members[person_id][project_id] = role
    return Seen(
        sessions=people_rows.sessions(cur, at),
        roles={one.id: one.role for one in people_rows.all_people(cur) if one.active},
        members=members,
        private={one.id: one.private for one in project_rows.all_projects(cur)},
    )
