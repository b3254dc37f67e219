"""What can have been used of a material, or spent as a sum, on a task."""

from __future__ import annotations

from datetime import date

from ..common.bounds import check_day
from ..common.dates import say_day
from ..common.errors import RuleError
from ..resources.bookable import Resource
from .costs import Expense
from .money import check_amount

LONGEST_NOTE = 500


UNIT_DECIMALS = 3


def check_expense(one: Expense, resource: Resource | None, project_id: str, today: date, decimals: int) -> None:
    """Look whether something can have been used or spent so.

    Args:
        resource: that of the expense, where there is one of that id.
        decimals: of the currency of the project.

    Raises:
        RuleError: a day still to come, units or sums that cannot be, something that is not booked by units or sums.
    """
    check_day(one.day, "day")
    if one.day > today:
        raise RuleError(f"What is spent was spent by now. Choose a day up to today, {say_day(today)}.", "day")
    if len(one.note) > LONGEST_NOTE:
        raise RuleError(f"A note has {LONGEST_NOTE} characters at most.", "note")
    of = "fixed"
    if one.resource_id is not None:
        if resource is None or resource.project_id not in {None, project_id} or resource.kind == "labour":
            raise RuleError("Choose a material or a fixed cost that can be booked in this project.", "resource_id")
        of = resource.kind
    given, other = (one.units, one.amount) if of == "material" else (one.amount, one.units)
    field = "units" if of == "material" else "amount"
    if other is not None:
        said = "A material is used by units, without a sum" if of == "material" else "Only a material is used by units: say a sum"
        raise RuleError(f"{said}.", "amount" if of == "material" else "units")
    if given is None or given <= 0:
        what = "how many units were used" if of == "material" else "the sum that was spent"
        raise RuleError(f"Say {what}: more than nothing.", field)
    check_amount(given, field, UNIT_DECIMALS if of == "material" else decimals)
