"""What the demo's work costs: projects that reckon it, their budgets, and what was used and spent."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from datetime import date, datetime, timedelta
from decimal import Decimal

from ..core.cost.costs import Expense
from ..core.resources.rates import Rate
from ..services.common.context import Actor, new_id
from ..services.cost import budgets, invoices
from ..services.resources import rates
from ..services.tasks import projects as project_services
from ..store.common.database import Database
from .plan_lines import PlanLine
from .plans import DemoProject

#: Of each project that reckons cost its budget, and those of deliverables and summary tasks.
BUDGETS = {
    "LAN": ("36500", {"Survey and consents": "3500", "Glazing": "8200", "Lens and drive": "13000", "Gallery and rail": "8500"}),
    "MIL": ("8900", {}),
}
#: What a unit of a material, or an hour of a crew, costs.
UNIT_RATES = {"Glass panes": "212.50", "Lime putty": "1.80", "Harbour scaffolders": "42.00"}
#: Task, what was used or spent (by the name of the resource; none: a sum that nobody planned), units or sum, working day, note.
SPENT: dict[str, tuple[tuple[str, str | None, str, int, str], ...]] = {
    "LAN": (
        ("Laser survey of the gallery", None, "180.00", -20, "Boat for two days"),
        ("Order curved panes", None, "640.00", -17, "Deposit to the glass works"),
        ("Cast replacement bars", None, "412.80", -5, "Gunmetal ingots"),
        ("Cast replacement bars", None, "96.40", -3, "Foundry sand, second load"),
        ("Bend copper flashing", None, "335.20", -6, "Copper sheet"),
    ),
    "MIL": (),
}
#: Whose hours are charged: project, client, who charges them, tax, number of the frozen sheet, how many days ago it was made.
CHARGED = ("LAN", "City of Corvane, heritage office", "IN", "19", "014", 16)


class Money:
    """Lays out what work costs.

    Args:
        at: notes what is to happen at a moment; ``as_``: gives who acts by their initials.
    """

    def __init__(
        self, database: Database, as_: Callable[[str], Actor], at: Callable[[datetime, Callable[[], None]], None]
    ) -> None:
        self._database = database
        self._as = as_
        self._at = at

    def plan_project(
        self, demo: DemoProject, lines: Sequence[PlanLine], ids: Sequence[str], day_of: Callable[[int], date], began: datetime
    ) -> None:
        """Lay out the money of a project, where it reckons cost."""
        if demo.code not in BUDGETS:
            return
        tasks = dict(zip([one.title for one in lines], ids, strict=True))
        self._at(began + timedelta(minutes=48), lambda: self._reckon(demo, tasks))
        for title, resource, amount, day, note in SPENT[demo.code]:
            at = datetime.combine(day_of(day), datetime.min.time()) + timedelta(hours=15, minutes=len(note))
            self._at(at, self._spend(demo, tasks[title], resource, amount, day_of(day), note))

    def _reckon(self, demo: DemoProject, tasks: Mapping[str, str]) -> None:
        lead = self._as(demo.lead)
        self._database.write(project_services.edit_project, lead, demo.code, 2**31 - 1, {"costs": True})
        whole, parts = BUDGETS[demo.code]
        self._database.write(budgets.set_budget, self._as(demo.lead), demo.code, None, Decimal(whole))
        for title, amount in parts.items():
            self._database.write(budgets.set_budget, self._as(demo.lead), demo.code, tasks[title], Decimal(amount))

    def price(self, demo: DemoProject, resource_id: str, name: str) -> None:
        """Say what a resource of a project costs."""
        if name in UNIT_RATES:
            wanted = [Rate(None, Decimal(UNIT_RATES[name]))]
            self._database.write(rates.set_rates, self._as(demo.lead), demo.code, resource_id, "cost", wanted)

    def charge(self, today: date) -> None:
        """One sheet of the weeks before is frozen, and the hours since are gathered on a draft."""
        code, client, lead, tax, number, freeze_after = CHARGED
        for first, last in ((-60, -freeze_after - 1), (-freeze_after, -1)):
            days = today + timedelta(days=first), today + timedelta(days=last)
            wish = invoices.Wish(new_id(), client, *days, "task", Decimal(tax))
            self._database.write(invoices.make_sheet, self._as(lead), code, wish)
            if first == -60:
                day = today - timedelta(days=freeze_after)
                due = day + timedelta(days=30)
                self._database.write(invoices.freeze_sheet, self._as(lead), code, wish.id, f"{day.year}-{number}", day, due)

    def _spend(
        self, demo: DemoProject, task_id: str, resource: str | None, amount: str, day: date, note: str
    ) -> Callable[[], None]:
        one = Expense(new_id(), "", task_id, resource, day, None, Decimal(amount), note, "")
        return lambda: self._database.write(budgets.add_expenses, self._as(demo.lead), demo.code, [one])
