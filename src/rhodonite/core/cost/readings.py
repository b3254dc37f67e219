"""What work costs in a plain sentence, for who may see it. What a reader should see first is wrapped in ``**``."""

from __future__ import annotations

from .budgets import Standing
from .costs import Cost
from .money import to_amount


def say_money(minor: int, decimals: int, currency: str = "") -> str:
    """``12,480.50 EUR``.

    >>> say_money(1248050, 2, "EUR")
    '12,480.50 EUR'
    """
    return f"{to_amount(minor, decimals):,f} {currency}".strip()


def say_cost(cost: Cost, stands: Standing, decimals: int, currency: str) -> str:
    """How something stands against its budget, or what was agreed of it; nothing where it costs nothing."""
    if not (cost.at_completion or stands.budget is not None):
        return ""
    ends = say_money(cost.at_completion, decimals, currency)
    if stands.budget is not None:
        budget = say_money(stands.budget, decimals)
        if stands.worry == "over":
            over = say_money(cost.at_completion - stands.budget, decimals)
            return f"At completion it costs {ends}: **{over} more than its budget** of {budget}."
        near = f"**{stands.used} %**" if stands.worry == "near" else f"{stands.used} %"
        return f"At completion it costs {ends}, {near} of its budget of {budget}."
    if stands.agreed is not None and stands.variance:
        by = say_money(abs(stands.variance), decimals)
        than = f"**{by} more than agreed**" if stands.variance < 0 else f"{by} less than agreed"
        return f"At completion it costs {ends}, {than}."
    return f"At completion it costs {ends}, {say_money(cost.spent, decimals)} of it spent."


def say_estimates(eac: int, at_completion: int, decimals: int, currency: str) -> str:
    """Why the estimate at completion of earned value is another sum than what the plan gives at completion.

    >>> say_estimates(410000, 390000, 2, "EUR")
    'EAC, 4,100.00 EUR, assumes that the remaining work costs as much per value earned as the work so far. At completion, 3,900.00 EUR, is what is spent plus the remaining hours, material and sums at their rates: 200.00 EUR less.'
    """
    by = say_money(abs(eac - at_completion), decimals, currency)
    differs = f": {by} {'less' if eac > at_completion else 'more'}" if eac != at_completion else ", the same sum"
    return (
        f"EAC, {say_money(eac, decimals, currency)}, assumes that the remaining work costs as much per value earned as the work so far."
        f" At completion, {say_money(at_completion, decimals, currency)}, is what is spent plus the remaining hours, material and sums"
        f" at their rates{differs}."
    )
