"""What the page and the guide say is understood is understood."""

from __future__ import annotations

import json
from pathlib import Path

import pytest

from rhodonite.core.people.model import Person
from rhodonite.core.resources.typed_bookings import Named, read_bookings
from rhodonite.core.tasks.quick_entry import ProjectName, Surroundings, read_line
from rhodonite.core.tasks.recurrence_words import read_rule
from rhodonite.core.tasks.typed_fields import read_fields

from ..make import NOW, plan, task

HELP = json.loads((Path(__file__).parents[3] / "web" / "src" / "shell" / "help.json").read_text())
EXAMPLES = {one["field"]: one["examples"] for one in HELP["typed"]}
PLAN = plan(task("a", number=12), task("b", number=15), task("c", number=16, title="Order panes"), task("d", number=17))
FIELDS = {"dates": "start", "durations": "duration", "effort": "effort", "waits for": "waits_for"}


@pytest.mark.parametrize(("name", "text"), [(name, text) for field, name in FIELDS.items() for text in EXAMPLES[field]])
def test_examples_of_fields_are_read(name: str, text: str) -> None:
    assert read_fields({name: text}, PLAN, NOW, PLAN.tasks["d"])[name]


@pytest.mark.parametrize("text", EXAMPLES["people and hours"])
def test_examples_of_bookings_are_read(text: str) -> None:
    known = [Named("t", "Tomas Brekke"), Named("y", "Yuki Hartmann"), Named("g", "Glass panes", True, "material", "pc")]
    assert len(read_bookings(text, known, 450, 1800)) == text.count(",") + 1


@pytest.mark.parametrize("text", EXAMPLES["repeats"])
def test_examples_of_repeats_are_read(text: str) -> None:
    assert read_rule(text, NOW.date())


@pytest.mark.parametrize("line", EXAMPLES["the field in the masthead"])
def test_examples_of_lines_are_understood_but_for_their_title(line: str) -> None:
    people = [Person(f"p{name}", name, "", "member", "", 1, True) for name in ("Tomas Brekke", "Yuki Hara")]
    around = Surroundings(people, [ProjectName("p", "LAN", "Lantern Room")], [], NOW.date(), 450)
    found = read_line(line, around)
    title, *phrases = line.split(", ")
    assert found.title == title
    assert [one.phrase for one in found.understood] == phrases
