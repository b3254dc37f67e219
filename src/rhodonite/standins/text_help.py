"""Help with texts: the protocol of an outside service, and a stand-in that needs no network.

The stand-in composes from templates and from similar finished work of the organisation. It says that it is the
stand-in, and it only proposes: a person reviews, changes and inserts.
"""

from __future__ import annotations

import json
import urllib.error
import urllib.request
from dataclasses import asdict, dataclass
from typing import Any, Literal, Protocol

from ..core.common.errors import RuleError

Tone = Literal["plain", "friendly", "formal"]
Length = Literal["short", "medium", "long"]
TIMEOUT = 20
LONGEST_ANSWER = 1 << 20
MOST_PROPOSED = 8


@dataclass(frozen=True, slots=True)
class Example:
    """A finished task that is like the one in question: what stood below it, what was ticked, and how long it took."""

    title: str
    took: str
    steps: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class DescriptionWish:
    """What a description is to be made of. ``again`` counts how often one was asked for before."""

    title: str
    points: tuple[str, ...]
    tone: Tone
    length: Length
    examples: tuple[Example, ...]
    again: int = 0


@dataclass(frozen=True, slots=True)
class TasksWish:
    """For what tasks are to be proposed."""

    title: str
    known: tuple[str, ...]
    examples: tuple[Example, ...]
    again: int = 0


@dataclass(frozen=True, slots=True)
class ProposedText:
    """A description as HTML that is still to be cleaned, and who wrote it."""

    html: str
    source: str


@dataclass(frozen=True, slots=True)
class ProposedTasks:
    """Titles of tasks, and who proposed them."""

    titles: tuple[str, ...]
    source: str


class TextHelp(Protocol):
    """An outside service that helps with texts."""

    def describe(self, wish: DescriptionWish) -> ProposedText:
        """Propose a description."""

    def propose_tasks(self, wish: TasksWish) -> ProposedTasks:
        """Propose tasks that a task could be made of."""


class RemoteTextHelp:
    """A service that answers ``POST <address>/description`` and ``POST <address>/tasks`` with JSON.

    Args:
        address: where it is.
    """

    def __init__(self, address: str) -> None:
        self._address = address.rstrip("/")

    def describe(self, wish: DescriptionWish) -> ProposedText:
        """Propose a description. Raises RuleError where the service does not answer."""
        return ProposedText(str(self._ask("description", asdict(wish)).get("html", "")), self._address)

    def propose_tasks(self, wish: TasksWish) -> ProposedTasks:
        """Propose tasks. Raises RuleError where the service does not answer."""
        titles = self._ask("tasks", asdict(wish)).get("titles", [])
        return ProposedTasks(tuple(str(one) for one in titles)[:MOST_PROPOSED], self._address)

    def _ask(self, what: str, wish: dict[str, Any]) -> dict[str, Any]:
        request = urllib.request.Request(
            f"{self._address}/{what}", json.dumps(wish).encode(), {"Content-Type": "application/json"}
        )
        try:
            with urllib.request.urlopen(request, timeout=TIMEOUT) as answer:
                found = json.loads(answer.read(LONGEST_ANSWER))
        except (urllib.error.URLError, OSError, ValueError) as error:
            raise RuleError(
                "The service that helps with texts does not answer. Write it yourself, or try again later."
            ) from error
        if not isinstance(found, dict):
            raise RuleError("The service that helps with texts gave no answer that can be read. Try again later.")
        return found


STAND_IN = "stand-in"
_OPENINGS: dict[Tone, tuple[str, ...]] = {
    "plain": ("{title}. What has to be done:", "This is about: {title}.", "{title}, in short:"),
    "friendly": (
        "Here is what {title} is about.",
        "We want {title} behind us. This is what it takes:",
        "Let us get {title} done:",
    ),
    "formal": ("The subject of this task is: {title}.", "The following is required for {title}:", "Scope of {title}:"),
}
_DONE: dict[Tone, str] = {
    "plain": "How it can be seen to be finished",
    "friendly": "How we can all see that it is finished",
    "formal": "Criteria of completion",
}
_CHECKS: dict[Tone, tuple[str, ...]] = {
    "plain": ("{point}: done, and looked at by a second person", "{point}: done and noted here", "{point}: can be shown"),
    "friendly": (
        "{point}: done, and somebody else has had a look",
        "{point}: done, with a photograph here",
        "{point}: ready to show",
    ),
    "formal": ("{point}: completed and verified", "{point}: completed and recorded", "{point}: completed and demonstrable"),
}
_STEPS = (
    "Look at what is there",
    "Agree what is wanted",
    "Order what is needed",
    "Do the work",
    "Check it with a second person",
    "Put away and note what it took",
)
_OTHER_STEPS = (
    "List what has to be true at the end",
    "Ask who has done it before",
    "Prepare place, tools and material",
    "Try it on one piece",
    "Do the rest",
    "Have it accepted",
)


class StandInTextHelp:
    """Composes from templates and from similar finished work; the same wish gives the same text."""

    def describe(self, wish: DescriptionWish) -> ProposedText:
        """Propose a description from talking points, a tone and a length."""
        points = [_sentence(one) for one in wish.points if one.strip()] or [_sentence(wish.title)]
        openings = _OPENINGS[wish.tone]
        opening = openings[wish.again % len(openings)].format(title=wish.title.strip().rstrip("."))
        parts = [f"<p>{_escape(opening)}</p>", _list([f"{one}." for one in points])]
        if wish.length != "short":
            checks = _CHECKS[wish.tone]
            done = [checks[(wish.again + n) % len(checks)].format(point=one) for n, one in enumerate(points)]
            parts += [f"<h3>{_escape(_DONE[wish.tone])}</h3>", _list(done)]
        if wish.length == "long" and wish.examples:
            steps = list(dict.fromkeys(step for one in wish.examples for step in one.steps))[:MOST_PROPOSED]
            if steps:
                parts += ["<h3>Steps of similar work</h3>", _list(steps)]
            took = [f"{one.title} took {one.took}" for one in wish.examples if one.took]
            if took:
                parts += ["<h3>What similar work took</h3>", _list(took)]
        return ProposedText("".join(parts), STAND_IN)

    def propose_tasks(self, wish: TasksWish) -> ProposedTasks:
        """Propose tasks: the steps of similar finished work, else those of any piece of work."""
        known = {one.casefold() for one in wish.known}
        steps = list(dict.fromkeys(step for one in wish.examples for step in one.steps if step.casefold() not in known))
        usual = [one for one in (_STEPS, _OTHER_STEPS)[wish.again % 2] if one.casefold() not in known]
        turned = steps[wish.again % len(steps) :] + steps[: wish.again % len(steps)] if steps else []
        return ProposedTasks(tuple((turned or usual)[:MOST_PROPOSED]), STAND_IN)


def _sentence(text: str) -> str:
    line = " ".join(text.split()).rstrip(".")
    return line[:1].upper() + line[1:]


def _escape(text: str) -> str:
    return text.replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;")


def _list(lines: list[str]) -> str:
    return f"<ul>{''.join(f'<li><p>{_escape(line)}</p></li>' for line in lines)}</ul>"
