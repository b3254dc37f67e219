"""What the demo's projects define themselves: fields, kinds, marks, what tasks have in them, and the sheets kept of it."""

from __future__ import annotations

import json
from collections.abc import Iterator, Mapping, Sequence
from typing import Any
from urllib.parse import urlencode

from pymysql.cursors import Cursor

from ..core.tasks.custom_fields import CustomField, Definition
from ..services.common.context import Actor, new_id
from ..services.tasks import custom_fields as definitions

# sort, name, settings
DEFINED: dict[str, list[tuple[str, str, dict[str, Any]]]] = {
    "LAN": [
        ("mark", "ask the harbour office", {"shape": "flag", "colour": "rose"}),
        ("mark", "photograph first", {"shape": "ring", "colour": "slate"}),
        ("field", "Material", {"type": "choice", "help": "What most of it is made of", "options": ["Gunmetal", "Copper", "Glass", "Oak", "Lime"]}),
        ("field", "Pieces", {"type": "number", "help": "How many are made or fitted"}),
        ("field", "Price of one", {"type": "money", "unit": "EUR", "decimals": 2}),
        ("field", "Material cost", {"type": "computed", "unit": "EUR", "decimals": 2,
                                    "formula": "if has tasks below then sum of Material cost below else Pieces × Price of one"}),
        ("field", "Needs dry weather", {"type": "yes_no", "help": "Cannot be done in rain or spray"}),
        ("field", "Inspected by", {"type": "person", "help": "Who signs for it"}),
    ],
    "KIO": [
        ("kind", "story", {"shape": "drop", "colour": "violet"}),
        ("kind", "release", {"shape": "star", "colour": "verdigris"}),
        ("mark", "needs a spare part", {"shape": "cross", "colour": "ember"}),
        ("field", "Seen on", {"type": "choices", "help": "Which machines showed it", "options": ["East gate", "Ferry deck", "Ticket hall"],
                              "for": ["defect"]}),
        ("field", "Stories", {"type": "tasks", "help": "What goes out with it", "target": "story", "for": ["release"]}),
        ("field", "Test report", {"type": "link"}),
    ],
}  # fmt: skip

VALUES: dict[str, dict[str, dict[str, Any]]] = {
    "LAN": {
        "Order curved panes": {"Material": "Glass", "Pieces": 16, "Price of one": 212.5},
        "Cast replacement bars": {"Material": "Gunmetal", "Pieces": 12, "Price of one": 164, "Inspected by": "IN"},
        "Bend copper flashing": {"Material": "Copper", "Pieces": 30, "Price of one": 11.2, "Needs dry weather": True},
        "Mix putty samples": {"Material": "Lime", "Pieces": 6, "Price of one": 4.8},
        "Fit bars and dry-run panes": {"Needs dry weather": True, "marks": ["photograph first"]},
        "Seal and pressure-test panes": {"Needs dry weather": True},
        "Crane certificate": {"marks": ["ask the harbour office"]},
        "Lift the lens to the workshop": {"Needs dry weather": True, "marks": ["ask the harbour office"]},
        "Forge new posts": {"Material": "Gunmetal", "Pieces": 18, "Price of one": 58},
        "Paint rail and brackets": {"Needs dry weather": True},
        "Renew stair nosings": {"Material": "Oak", "Pieces": 41, "Price of one": 9.5},
    },
    "KIO": {
        "Touch screen misses wet fingers": {"Seen on": ["East gate", "Ferry deck"]},
        "Gate opens twice for one ticket": {"Seen on": ["East gate"], "marks": ["needs a spare part"]},
        "Receipt cuts off the last line": {"Seen on": ["Ticket hall"]},
        "Print at the gate": {"kind": "story"},
        "Refund before sailing": {"kind": "story"},
        "Price list by date and age": {"kind": "story"},
    },
}

# whose, name, seen by, lens, view
SHEETS: dict[str, list[tuple[str, str, str, str, dict[str, Any]]]] = {
    "LAN": [
        ("IN", "Glazing look-ahead", "project", "outline", {
            "where": {"any": [["start", "within", 21], ["finish", "within", 21]]},
            "groups": ["owner"],
            "columns": [{"key": "state"}, {"key": "start"}, {"key": "finish"}, {"key": "effort", "foot": "sum"},
                        {"key": "Material cost", "width": 110, "foot": "sum"}],
            "tints": [
                {"name": "Late", "where": {"all": [["late", "yes"]]}, "colour": "ember", "sign": "triangle", "covers": ["row", "slip", "bar"]},
                {"name": "Needs dry weather", "where": {"all": [["Needs dry weather", "yes"]]}, "colour": "slate", "sign": "drop",
                 "covers": ["row", "slip", "bar"]},
            ],
        }),
        ("IN", "Waiting on others", "private", "outline", {
            "state_class": ["queued", "active"],
            "where": {"any": [["waits", "yes"], ["held", "yes"]]},
            "columns": [{"key": "owner"}, {"key": "held_by"}, {"key": "finish"}, {"key": "in_state"}],
            "sorts": [{"key": "finish", "down": False}],
        }),
    ],
    "": [  # on the desk, over all projects
        ("IN", "Late or held", "project", "all_work", {
            "state_class": ["queued", "active"],
            "where": {"any": [["late", "yes"], ["held", "yes"]]},
            "groups": ["project"],
            "columns": [{"key": "state"}, {"key": "owner"}, {"key": "finish"}, {"key": "late_days", "foot": "sum"}, {"key": "held_by"}],
            "sorts": [{"key": "finish", "down": False}],
            "tints": [{"name": "Three days late or more", "where": {"all": [["late_days", "least", 3]]}, "colour": "ember",
                       "sign": "triangle", "covers": ["row"]}],
        }),
        ("TB", "My crew, next three weeks", "private", "all_work", {
            "where": {"all": [["owner", "any", ["my_team"]], {"any": [["start", "within", 21], ["finish", "within", 21]]}]},
            "groups": ["owner"],
            "columns": [{"key": "project"}, {"key": "start"}, {"key": "finish"}, {"key": "effort", "foot": "sum"}],
            "sorts": [{"key": "start", "down": False}],
        }),
    ],
}  # fmt: skip


def define(cur: Cursor, actor: Actor, code: str) -> None:
    """Write what a project defines."""
    kinds: dict[str, str] = {}
    for sort, name, given in DEFINED.get(code, ()):
        one_id, settings = new_id(), dict(given)
        if "options" in settings:
            settings["options"] = [{"id": new_id(), "name": option, "colour": "slate"} for option in settings["options"]]
        if "for" in settings:
            settings["kinds"] = [kinds.get(kind, kind) for kind in settings.pop("for")]
        if "target" in settings:
            settings["target_kind"] = kinds[settings.pop("target")]
        definitions.add_definition(cur, actor, code, sort, one_id, name, settings)
        actor = Actor(actor.person, actor.clock)
        if sort == "kind":
            kinds[name] = one_id


def values_of(code: str, defined: Sequence[Definition], people: Mapping[str, str]) -> dict[str, dict[str, Any]]:
    """By task what is to be filled in, under the ids that the definitions have."""
    by_name = {one.name: one for one in defined}
    found: dict[str, dict[str, Any]] = {}
    for title, values in VALUES.get(code, {}).items():
        fields: dict[str, Any] = {}
        for name, value in values.items():
            if name == "marks":
                fields["marks"] = [by_name[one].id for one in value]
            elif name == "kind":
                fields["kind"] = by_name[value].id
            else:
                one = by_name[name]
                assert isinstance(one, CustomField)
                fields[one.key] = people[value] if one.type == "person" else value
        found[title] = fields
    return found


def sheets_of(code: str, defined: Sequence[Definition]) -> Iterator[tuple[str, str, str, dict[str, Any]]]:
    """Whose, name, seen by and view of each sheet, as the page keeps it."""
    keys = {one.name: one.key for one in defined if isinstance(one, CustomField)}

    def named(value: Any) -> Any:
        """With the ids of the project's own fields in place of their names."""
        if isinstance(value, dict):
            return {key: named(one) for key, one in value.items()}
        if isinstance(value, list):
            return [named(one) for one in value]
        return keys.get(value, value) if isinstance(value, str) else value

    for whose, name, seen_by, lens, view in SHEETS.get(code, ()):
        kept = {key: named(value) for key, value in view.items() if key != "tints"}
        if "tints" in view:
            kept["tints"] = [{**tint, "id": new_id(), "where": named(tint["where"])} for tint in view["tints"]]
        where = json.dumps(kept.pop("where"), separators=(",", ":"), ensure_ascii=False)
        text = json.dumps({key: kept[key] for key in ("columns", "groups", "sorts", "tints") if key in kept},
                          separators=(",", ":"), ensure_ascii=False)  # fmt: skip
        sentence = {"state_class": kept.pop("state_class", ()), "view": text, "where": where}
        yield whose, name, seen_by, {"lens": lens, "query": urlencode(sentence, doseq=True), "where": where, **kept}
