"""The demo's dashboards: the Monday round with the crews, what the trustees look at, the Lantern Room on the wall of the site office."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from decimal import Decimal
from typing import Any

from ..core.people.model import Person
from ..core.reports.dashboards import Dashboard, Options, Panel, PanelKind, SeenBy
from ..core.views.conditions import Clause, Group
from ..core.views.scope import Scope
from ..services.common.context import Actor, new_id
from ..services.reports import dashboards
from ..store.common.database import Database

OPEN = ("queued", "active")


def _where(*clauses: tuple[Any, ...]) -> Group:
    return Group("all", tuple(Clause(*one) for one in clauses))


def _panels(people: Mapping[str, str]) -> dict[str, list[tuple[PanelKind, str, int, int, Scope, Options]]]:
    """By dashboard its panels: kind, title, width, height, sentence and the rest."""
    still_open = Scope(classes=OPEN)
    late = Scope(classes=OPEN, late=True)
    return {
        "Monday with the crews": [
            ("figure", "Open work", 3, 3, still_open, Options(trend=True)),
            ("figure", "Late", 3, 3, late, Options(target=Decimal(3), better="down")),
            ("figure", "Hours still to do", 3, 3, still_open, Options(measure="sum", of="effort")),
            ("figure", "Finished", 3, 3, Scope(classes=("finished",)), Options(trend=True)),
            ("people", "Who works on what", 8, 9, still_open, Options(people=tuple(people[one] for one in ("TB", "CR", "PN", "NC")))),
            ("chart", "Hours by project and class", 4, 9, still_open,
             Options(by=("project", "class"), measure="sum", of="effort", shape="stacked")),
            ("milestones", "Milestones this month", 4, 6, Scope(), Options(days=31)),
            ("tasks", "Late, the worst first", 4, 6, late, Options(columns=("owner", "late_days"), sort="late_days", down=True)),
            ("load", "How full the crews are", 4, 6, Scope(), Options(weeks=2)),
        ],
        "Board of trustees": [
            ("projects", "Projects", 6, 8, Scope(), Options()),
            ("goals", "Goals", 6, 8, Scope(), Options()),
            ("portfolio", "All along the coast", 12, 8, Scope(), Options()),
            ("chart", "Work by class, as it was then", 6, 7, Scope(), Options(by=("class",), over_time=True, period="week", last=10, shape="area")),
            ("cost", "Money", 6, 7, Scope(), Options()),
            ("reports", "What was reported last", 6, 6, Scope(), Options()),
            ("text", "How to read this", 6, 6, Scope(), Options(
                text="<p>Every figure is reckoned from the plans at this moment. <strong>A dotted stroke</strong> says how far a thing"
                     " should be by now.</p><p>Ask Ines where a word is not clear.</p>")),
        ],
        "On the wall": [
            ("progress", "How far", 6, 4, Scope(), Options()),
            ("figure", "Held", 3, 4, Scope(held=True), Options(target=Decimal(0), better="down")),
            ("figure", "Days late in all", 3, 4, late, Options(measure="sum", of="late_days")),
            ("milestones", "What comes", 4, 7, Scope(), Options(days=90)),
            ("chart", "Finishes by week and person", 8, 7, Scope(classes=OPEN, where=_where(("finish", "within", 90))),
             Options(by=("finish", "owner"), period="week", shape="stacked")),
            ("people", "In hand", 12, 8, still_open, Options()),
        ],
    }  # fmt: skip


#: By dashboard who keeps it, the project whose work alone it shows, who sees it, and those who are named.
KEPT: dict[str, tuple[str, str | None, SeenBy, tuple[str, ...]]] = {
    "Monday with the crews": ("IN", None, "everyone", ()),
    "Board of trustees": ("BE", None, "people", ("IN", "MF")),
    "On the wall": ("IN", "LAN", "everyone", ()),
}


def keep_dashboards(database: Database, people: Mapping[str, Person], as_: Callable[[str], Actor]) -> None:
    """Keep the dashboards of the demo."""
    panels = _panels({initials: one.id for initials, one in people.items()})
    for name, (keeper, code, seen_by, named) in KEPT.items():
        one = Dashboard(new_id(), None, "", name, "", seen_by, tuple(people[each].id for each in named))
        made = [Panel(new_id(), one.id, kind, title, "", width, height, scope, options)
                for kind, title, width, height, scope, options in panels[name]]  # fmt: skip
        database.write(dashboards.keep, as_(keeper), code, one, made, None)
