"""Rounding as people expect it: halves away from zero."""

from __future__ import annotations

from decimal import ROUND_HALF_UP, Context, Decimal

_ROOM = Context(prec=60)


def rounded(number: Decimal, decimals: int) -> Decimal:
    """A number with some decimals, halves away from zero.

    Args:
        number: finite, below 10^40.
        decimals: from 0 to 9.

    >>> rounded(Decimal("2.5"), 0), rounded(Decimal("-1.005"), 2)
    (Decimal('3'), Decimal('-1.01'))
    """
    return number.quantize(Decimal(1).scaleb(-decimals), rounding=ROUND_HALF_UP, context=_ROOM)
