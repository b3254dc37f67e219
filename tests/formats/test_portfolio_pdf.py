"""A portfolio on paper."""

from __future__ import annotations

import re
from dataclasses import replace
from datetime import date, datetime

from rhodonite.core.portfolio.readings import ItemLine, PartOnPaper, say_expected, say_holds_up, say_part
from rhodonite.formats.portfolio_pdf import write_portfolio_pdf

NOW = datetime(2027, 3, 17, 9, 42)
GLAZING = ItemLine(
    "LAN", 4, "Glazing", "deliverable", "On the bench", "active", "Piet Novak", "strained", 31, date(2027, 2, 19), date(2027, 4, 7),
    date(2027, 4, 5), 2, "", ("at risk",), ("Bars", "Cast the bars"), "1 d late", True,
)  # fmt: skip


def test_items_are_said_in_words() -> None:
    assert say_expected(GLAZING, NOW.date()) == "7 Apr, 2 days past the promise"
    assert say_expected(replace(GLAZING, past=-1), NOW.date()) == "7 Apr, 1 day before the promise"
    assert say_expected(replace(GLAZING, past=3, state_class="finished"), NOW.date()) == "7 Apr"
    assert say_expected(replace(GLAZING, expected=None, past=None), NOW.date()) == "no date"
    assert say_holds_up(GLAZING) == "hinges on Cast the bars: 1 d late"
    assert say_holds_up(replace(GLAZING, holds_up=())) == "1 d late"
    assert say_holds_up(replace(GLAZING, held="foundry sand")) == "held: foundry sand"
    assert say_part(25, date(2027, 5, 18), 2, True, 2, 0, NOW.date()) == "25 % done, 18 May, 2 days past agreed, 2 late"
    assert say_part(0, None, 0, False, 0, 1, NOW.date()) == "0 % done, 1 held"


def test_it_goes_over_as_many_pages_as_it_takes() -> None:
    def pages(items: int) -> int:
        part = PartOnPaper("LAN", "Lantern Room Restoration", 0, "strained", "25 % done", [GLAZING] * items)
        pdf = write_portfolio_pdf("All along the coast", "as Ines sees it", [part], "", NOW)
        return len(re.findall(rb"/Type /Page\b", pdf))

    assert [pages(items) for items in (0, 1, 60)] == [1, 1, 4]
