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
CURRENCIES = frozenset(
    [
        "AED",
        "AFN",
        "ALL",
        "AMD",
        "AOA",
        "ARS",
        "AUD",
        "AWG",
        "AZN",
        "BAM",
        "BBD",
        "BDT",
        "BGN",
        "BHD",
        "BIF",
        "BMD",
        "BND",
        "BOB",
        "BRL",
        "BSD",
        "BTN",
        "BWP",
        "BYN",
        "BZD",
        "CAD",
        "CDF",
        "CHF",
        "CLP",
        "CNY",
        "COP",
        "CRC",
        "CUP",
        "CVE",
        "CZK",
        "DJF",
        "DKK",
        "DOP",
        "DZD",
        "EGP",
        "ERN",
        "ETB",
        "EUR",
        "FJD",
        "FKP",
        "GBP",
        "GEL",
        "GHS",
        "GIP",
        "GMD",
        "GNF",
        "GTQ",
        "GYD",
        "HKD",
        "HNL",
        "HTG",
        "HUF",
        "IDR",
        "ILS",
        "INR",
        "IQD",
        "IRR",
        "ISK",
        "JMD",
        "JOD",
        "JPY",
        "KES",
        "KGS",
        "KHR",
        "KMF",
        "KPW",
        "KRW",
        "KWD",
        "KYD",
        "KZT",
        "LAK",
        "LBP",
        "LKR",
        "LRD",
        "LSL",
        "LYD",
        "MAD",
        "MDL",
        "MGA",
        "MKD",
        "MMK",
        "MNT",
        "MOP",
        "MRU",
        "MUR",
        "MVR",
        "MWK",
        "MXN",
        "MYR",
        "MZN",
        "NAD",
        "NGN",
        "NIO",
        "NOK",
        "NPR",
        "NZD",
        "OMR",
        "PAB",
        "PEN",
        "PGK",
        "PHP",
        "PKR",
        "PLN",
        "PYG",
        "QAR",
        "RON",
        "RSD",
        "RUB",
        "RWF",
        "SAR",
        "SBD",
        "SCR",
        "SDG",
        "SEK",
        "SGD",
        "SHP",
        "SLE",
        "SOS",
        "SRD",
        "SSP",
        "STN",
        "SVC",
        "SYP",
        "SZL",
        "THB",
        "TJS",
        "TMT",
        "TND",
        "TOP",
        "TRY",
        "TTD",
        "TWD",
        "TZS",
        "UAH",
        "UGX",
        "USD",
        "UYU",
        "UYI",
        "UZS",
        "VED",
        "VES",
        "VND",
        "VUV",
        "WST",
        "XAF",
        "XCD",
        "XOF",
        "XPF",
        "YER",
        "ZAR",
        "ZMW",
        "ZWG",
    ]
)
"""The currencies that are paid with: ISO 4217, list one, without funds, metals and codes for tests."""
EXCHANGE_DECIMALS = 8
MOST_EXCHANGE = Decimal(10) ** 9


def decimals_of(currency: str) -> int:
    """The decimals of the minor unit of a currency, by its three letters."""
    return _OTHERS.get(currency, MINOR)


def check_currency(code: str) -> str:
    """A currency by its three letters. Raises RuleError where it is none."""
    code = code.strip().upper()
    if code not in CURRENCIES:
        said = f"{code} is not a currency. " if re.fullmatch(r"[A-Z]{3}", code) else ""
        raise RuleError(f"{said}Name the currency by its three letters, such as EUR.", "currency")
    return code


def check_exchange(rate: Decimal) -> Decimal:
    """How many of a project's currency one of the organisation's buys. Raises RuleError where that cannot be."""
    if not rate.is_finite() or not 0 < rate <= MOST_EXCHANGE or -int(rate.normalize().as_tuple().exponent) > EXCHANGE_DECIMALS:
        raise RuleError(f"An exchange rate is more than nothing and has {EXCHANGE_DECIMALS} decimals at most.", "exchange")
    return rate.normalize()
