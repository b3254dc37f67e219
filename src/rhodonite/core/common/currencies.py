"""Currencies by their three letters, and exchange between two."""

from __future__ import annotations

import re
from collections.abc import Mapping
from decimal import Decimal
from types import MappingProxyType

from .errors import RuleError

MINOR = 2
"""Decimals of most currencies."""
_OTHERS: Mapping[str, int] = MappingProxyType(
    dict.fromkeys(
        ["BIF", "CLP", "DJF", "GNF", "ISK", "JPY", "KMF", "KRW", "PYG", "RWF", "UGX", "UYI", "VND", "VUV", "XAF", "XOF", "XPF"], 0
    )
    | dict.fromkeys(["BHD", "IQD", "JOD", "KWD", "LYD", "OMR", "TND"], 3)
)
"""Decimals of the others: ISO 4217, minor units."""
EXCHANGE_DECIMALS = 8
MOST_EXCHANGE = Decimal(10) ** 9


def decimals_of(currency: str) -> int:
    """The decimals of the minor unit of a currency, by its three letters."""
    return _OTHERS.get(currency, MINOR)


def check_currency(code: str) -> str:
    """A currency by its three letters. Raises RuleError where it is none."""
    code = code.strip().upper()
    if not re.fullmatch(r"[A-Z]{3}", code):
        raise RuleError("Name the currency by its three letters, such as EUR.", "currency")
    return code


def check_exchange(rate: Decimal) -> Decimal:
    """How many of a project's currency one of the organisation's buys. Raises RuleError where that cannot be."""
    if not rate.is_finite() or not 0 < rate <= MOST_EXCHANGE or -int(rate.normalize().as_tuple().exponent) > EXCHANGE_DECIMALS:
        raise RuleError(f"An exchange rate is more than nothing and has {EXCHANGE_DECIMALS} decimals at most.", "exchange")
    return rate.normalize()
