"""What was measured: printed as it comes, written to ``docs/performance.md``, and held against the last time."""

from __future__ import annotations

import re
import statistics
import time
from dataclasses import dataclass
from datetime import date
from pathlib import Path

PAGE = Path(__file__).parents[2] / "docs" / "performance.md"
WORSE = 4 / 3
SPEED = "three million additions in Python, the reference for the machine at that hour"
_ROW = re.compile(
    r"^\| (?P<name>[^|]+?) \| (?P<figure>[^|]+?) \| (?P<reference>[^|]*?) \| (?P<ratio>[^|]*?) \| (?P<aim>[^|]*?) \|"
)
_HEAD = """# How fast it is

Made by `./rhodonite bench`, on {day}, on a machine of two processors that serves, stores and asks at once: {about}
Times differ from machine to machine and from hour to hour, by more than half where others share it: the first line says how fast
it was. The ratio to the reference of the same run differs less. The references: for answers of the server the same rows by bare SQL, encoded as JSON; for an edit the same rows and journal by bare
SQL in one transaction; for frames as many as a list of plain rows reaches.

| what | figure | reference | ratio | aim |
|---|---|---|---|---|
"""


@dataclass(frozen=True, slots=True)
class Line:
    """One figure.

    Attributes:
        most: the aim where less is better; ``least`` where more is. One of ``value`` and its ratio is held against it.
        by_ratio: the aim is of the ratio to the reference.
    """

    name: str
    value: float
    unit: str
    reference: float | None = None
    most: float | None = None
    least: float | None = None
    by_ratio: bool = False

    @property
    def ratio(self) -> float | None:
        """How many times the reference."""
        return self.value / self.reference if self.reference else None

    @property
    def aim(self) -> str:
        """The aim in words, and whether it is met."""
        bound = self.most if self.most is not None else self.least
        if bound is None:
            return ""
        held = (self.ratio if self.by_ratio else self.value) or 0.0
        is_met = held <= bound if self.most is not None else held >= bound
        words = "at most" if self.most is not None else "at least"
        unit = "times" if self.by_ratio else self.unit
        return f"{words} {bound:,.10g} {unit}{'' if is_met else ': **missed**'}"

    def __str__(self) -> str:
        reference = "" if self.reference is None else _figure(self.reference, self.unit)
        ratio = "" if self.ratio is None else f"{self.ratio:.2f}"
        return f"| {self.name} | {_figure(self.value, self.unit)} | {reference} | {ratio} | {self.aim} |"


def _figure(value: float, unit: str) -> str:
    return f"{value:,.{0 if value >= 100 else 1 if value >= 10 else 2}f} {unit}".strip()


class Report:
    """Collects the figures of a run."""

    def __init__(self) -> None:
        self.lines: list[Line] = []
        self._speeds: list[float] = []

    def feel(self) -> None:
        """Measure how fast the machine is now; before all, between, and after all."""
        began = time.perf_counter()
        total = 0
        for n in range(3_000_000):
            total += n
        self._speeds.append((time.perf_counter() - began) * 1000)

    def add(self, line: Line) -> None:
        """Say a figure, and keep it."""
        self.lines.append(line)
        print(line, flush=True)

    def write(self, about: str, page: Path = PAGE) -> list[str]:
        """Write the page. Returns what got worse by a third against the last run, in words."""
        before = read(page.read_text("utf-8")) if page.exists() else {}
        slower = 1.0
        if self._speeds:
            speed = statistics.median(self._speeds)
            self.lines.insert(0, Line(SPEED, speed, "ms"))
            slower = speed / before.get(SPEED, speed)
        page.write_text(_HEAD.format(day=date.today().isoformat(), about=about) + "\n".join(map(str, self.lines)) + "\n", "utf-8")
        return [
            f"{line.name}: {_figure(line.value, line.unit)}, last time {_figure(before[line.name], line.unit)}"
            for line in self.lines
            if line.name in before and got_worse(line, before[line.name], slower)
        ]


def got_worse(line: Line, before: float, slower: float = 1) -> bool:
    """True where a figure is worse by a third than before.

    Args:
        slower: how many times slower the machine is than it was then, which is allowed for in what is a time.
    """
    allowed = slower if line.unit in {"ms", "a second"} else 1
    return line.value * allowed * WORSE < before if line.least is not None else line.value > before * allowed * WORSE


def read(page: str) -> dict[str, float]:
    """The figures of a page that was written, by their names."""
    rows = (_ROW.match(line) for line in page.splitlines())
    found = ((row["name"], row["figure"].split(" ")[0].replace(",", "")) for row in rows if row)
    return {name: float(figure) for name, figure in found if re.fullmatch(r"[\d.]+", figure)}
