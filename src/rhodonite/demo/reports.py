"""What the demo's leads reported: eight weeks of two projects, drafted from the plan as it stood and told in a sentence more."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from datetime import datetime, time, timedelta

from ..core.people.model import Person
from ..core.reports.model import ReportSettings, SectionKey
from ..services.common.context import Actor, Clock, new_id
from ..services.reports import status
from ..store.common.database import Database
from .plans import DemoProject

WEEKS = 8
#: Of each project that reports, to whom; and by how many weeks ago what its lead added to how it stands.
TOLD: dict[str, tuple[tuple[str, ...], dict[int, str]]] = {
    "LAN": (
        ("BE", "MF", "TB"),
        {
            5: "The heritage office has asked for a second look at the consent.",
            3: "Consent is later than we hoped; the foundry has begun on our word.",
            2: "Sand of the right grain is scarce. We have asked the second foundry.",
            1: "The second foundry promises sand by Friday. Until then the bars wait.",
        },
    ),
    "MIL": (
        ("BE", "IN"),
        {4: "Two masons were lent to the harbour for a week.", 1: "The wheel turned by hand for the first time."},
    ),
}


class Reports:
    """Lays out what was reported.

    Args:
        real: the clock of the demo.
        as_: gives who acts by their initials; ``at``: notes what is to happen at a moment.
    """

    def __init__(
        self, database: Database, real: Clock, people: Mapping[str, Person], as_: Callable[[str], Actor],
        at: Callable[[datetime, Callable[[], None]], None],
    ) -> None:  # fmt: skip
        self._database = database
        self._real = real
        self._people = people
        self._as = as_
        self._at = at

    def plan_project(self, demo: DemoProject, began: datetime) -> None:
        """Lay out the reports of a project, where it reports: each Friday afternoon since it began."""
        if demo.code not in TOLD:
            return
        to, added = TOLD[demo.code]
        settings = ReportSettings(rhythm="weekly", people=tuple(self._people[one].id for one in to))
        self._at(
            began + timedelta(minutes=50),
            lambda: self._database.write(status.set_settings, self._as(demo.lead), demo.code, settings),
        )
        today = self._real.now().date()
        friday = today - timedelta(days=(today.weekday() - 4) % 7 or 7)
        for weeks in range(WEEKS, 0, -1):
            at = datetime.combine(friday - timedelta(weeks=weeks - 1), time(16, 10))
            if at > began + timedelta(days=3):
                self._at(at, self._publish(demo, added.get(weeks, "")))

    def _publish(self, demo: DemoProject, added: str) -> Callable[[], None]:
        def publish() -> None:
            lead = self._as(demo.lead)
            draft = self._database.read(status.draft, lead, demo.code)
            texts: dict[SectionKey, str] = {key: "\n".join(one.text for one in some) for key, some in draft.sections.items()}
            texts["stands"] = "\n".join(one for one in (texts.get("stands", ""), added) if one)
            new = status.NewReport(new_id(), texts, {}, None, ())
            self._database.write(status.publish, lead, demo.code, new)

        return publish
