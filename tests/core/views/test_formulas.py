"""Formulas of computed fields: worked by hand, and by laws."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date
from decimal import Decimal
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rhodonite.core.common.errors import RuleError
from rhodonite.core.views.formula_values import FormulaError, Value, compare, has, reckon, say, total
from rhodonite.core.views.formulas import circle_in, read_formula

NAMES = {"price": "price", "unit price": "unit price", "count": "count", "start": "start", "finish": "finish", "note": "note"}


class Around:
    """A task with some values, and tasks below with others."""

    today = date(2027, 3, 17)

    def __init__(self, values: dict[str, Value], below: list[dict[str, Value]] | None = None) -> None:
        self.values = values
        self.under = below or []

    def value(self, key: str) -> Value:
        return self.values.get(key)

    def below(self, key: str) -> Iterable[Value]:
        return [one.get(key) for one in self.under]

    def working_days(self, first: date, last: date) -> Decimal:
        return Decimal(sum(date.fromordinal(n).weekday() < 5 for n in range(first.toordinal(), last.toordinal() + 1)))


def result(text: str, below: list[dict[str, Value]] | None = None, **values: Any) -> Value:
    known = {key.replace("_", " "): Decimal(value) if isinstance(value, int) else value for key, value in values.items()}
    return read_formula(text, NAMES).evaluate(Around(known, below))


@pytest.mark.parametrize(
    ("text", "value"),
    [
        ("1 + 2 × 3", Decimal(7)),
        ("(1 + 2) * 3", Decimal(9)),
        ("10 - 3 - 2", Decimal(5)),
        ("-2 × -3", Decimal(6)),
        ("7 ÷ 2", Decimal("3.5")),
        ("1 / 0", None),
        ("round(10 / 3, 2)", Decimal("3.33")),
        ("if 2 > 1 then \"more\" else \"less\"", "more"),
        ("if 2 ≤ 1 then 1", None),
        ("1 < 2 and not 3 < 2 or no", True),
        ("yes = no", False),
        ('"Lens" = "lens"', True),
        ('"3" = 3', "a text = a number cannot be"),
        ('"3" * 3', "a text × a number cannot be"),
        ("today * 2", "a date × a number cannot be"),
        ("today < 3", "a date < a number cannot be"),
        ("yes + 1", "yes or no + a number cannot be"),
        ("1 + yes * 2", "yes or no × a number cannot be"),
        ('if "a" > 1 then 1 else 2', "a text > a number cannot be"),
        ('round("a")', "a text cannot be rounded"),
        ("999999999999 * 999999999999", "a number too large to reckon with"),
        ("today + 99999999", "a date that no calendar has"),
        ("round(2.5)", Decimal(3)),
        ("round(-2.5)", Decimal(-3)),
        ("round(1.005, 2)", Decimal("1.01")),
        ("- - 3", Decimal(3)),
        ("not not not yes", False),
        ('"Lens glass" has "GLASS"', True),
        ("today", date(2027, 3, 17)),
        ("today + 14", date(2027, 3, 31)),
        ("2027-04-01 - today", Decimal(15)),
        ("days from today to 2027-03-22", Decimal(5)),
        ("working days from today to 2027-03-22", Decimal(4)),  # Wed, Thu, Fri and Mon
        ("nothing + 1", None),
        ('"at " + 3', "at 3"),
    ],
)  # fmt: skip
def test_what_formulas_give(text: str, value: Value) -> None:
    assert result(text) == value


def test_fields_are_named_as_they_are_called() -> None:
    assert result("Unit price × Count", unit_price=12, count=3) == Decimal(36)
    assert result("price + unit price", unit_price=12, price=3) == Decimal(15)  # the longest name that fits is meant
    assert result("Price × Count", price=12) is None


def test_the_tasks_below_are_summed() -> None:
    below = [{"price": Decimal(3)}, {"price": None}, {"price": Decimal(5)}]
    assert result("sum of Price below", below) == Decimal(8)
    assert result("average of Price below", below) == Decimal(4)
    assert result("least of price below + most of price below", below) == Decimal(8)
    assert result("count below", below) == Decimal(3)
    assert result("if count below > 0 then sum of Price below else Price", price=7) == Decimal(7)


@pytest.mark.parametrize(
    ("text", "where"),
    [
        ("", "Write a formula"),
        ("1 +", "at its end"),
        ("Prise × 2", "at “Prise × 2”"),
        ("(1 + 2", "“)”"),
        ("if 1 > 2 else 3", "“then”"),
        ("sum of below", "the name of a field"),
        ("1 2", "an operator"),
        ("2027-02-30", "a date that there is"),
        ("__import__('os')", "at “__import__"),
        ("(" * 60 + "1" + ")" * 60, "nested too deeply"),
        ("1" * 3000, "characters at most"),
    ],
)
def test_what_cannot_be_read_says_where(text: str, where: str) -> None:
    with pytest.raises(RuleError, match=where.replace("(", r"\(").replace(")", r"\)")):
        read_formula(text, NAMES)


numbers = st.decimals(-(10**6), 10**6, places=3)
values = st.one_of(st.none(), numbers, st.booleans(), st.text(max_size=5), st.dates())


@given(numbers, numbers, numbers)
def test_arithmetic_is_that_of_decimals(a: Decimal, b: Decimal, c: Decimal) -> None:
    around = Around({"price": a, "count": b, "unit price": c})
    evaluate = read_formula("price × count - unit price / 2", NAMES).evaluate
    assert evaluate(around) == a * b - c / 2


@given(st.sampled_from("+-*/"), values, values)
def test_reckoning_never_fails(sign: str, left: Value, right: Value) -> None:
    reckon(sign, left, right)
    say(left)


@given(values, values)
def test_of_two_values_at_most_one_is_less(left: Value, right: Value) -> None:
    assert not (compare("<", left, right) is True and compare("<", right, left) is True)
    assert compare("=", left, right) != compare("<>", left, right)
    assert compare("=", left, left) is True


def test_long_chains_are_reckoned_one_after_the_other() -> None:
    """As long as a formula can be: nothing in it nests, so nothing in Python does."""
    for text, wanted in (
        ("+".join(["1"] * 1000), Decimal(1000)),
        ("*".join(["1"] * 1000), Decimal(1)),
        ("-" * 1001 + "1", Decimal(-1)),
        ("not " * 400 + "yes", True),
        (" or ".join(["no"] * 300 + ["yes"]), True),
    ):
        assert read_formula(text, {}).evaluate(Around({})) == wanted


@given(values, values, values)
def test_an_error_stays_an_error(left: Value, right: Value, other: Value) -> None:
    wrong = reckon("*", "a text", Decimal(2))
    assert isinstance(wrong, FormulaError)
    assert reckon("+", wrong, left) == reckon("-", right, wrong) == compare("<", other, wrong) == wrong
    assert has(wrong, left) == total("sum", [left, wrong] if not isinstance(left, FormulaError) else [wrong]) == wrong


def test_a_text_that_grows_ends_in_an_error() -> None:
    text: Value = "x" * 1500
    assert reckon("+", text, text) == "a text of more than 2000 characters"


def test_lists_are_asked_what_they_have() -> None:
    assert has(("Urgent", "Wet"), "urgent") is True
    assert has(("Urgent", "Wet"), "urg") is False
    assert has(None, "urgent") is False
    assert has(Decimal(3), "urgent") == "a number has a text cannot be"
    assert compare("=", ("Urgent", "Wet"), "urgent, wet") is True


@pytest.mark.parametrize(
    ("uses", "circle"),
    [
        ({}, []),
        ({"a": {"b"}, "b": {"c"}, "c": set()}, []),
        ({"a": {"a"}}, ["a", "a"]),
        ({"a": {"b"}, "b": {"c"}, "c": {"b"}}, ["b", "c", "b"]),
        ({"a": {"b", "c"}, "b": {"d"}, "c": {"d"}, "d": {"x"}}, []),
    ],
)
def test_circles_of_fields_are_found(uses: dict[str, set[str]], circle: list[str]) -> None:
    assert circle_in(uses) == circle


@given(st.lists(values))
def test_sums_leave_out_what_is_no_number(found: list[Value]) -> None:
    known = [one for one in found if isinstance(one, Decimal)]
    assert total("sum", found) == (sum(known, Decimal(0)) if known else None)


@given(st.text(max_size=60))
def test_any_text_is_read_or_refused(text: str) -> None:
    try:
        formula = read_formula(text, NAMES)
    except RuleError:
        return
    formula.evaluate(Around({}))
