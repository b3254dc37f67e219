"""The checks that run before the tests: lint, format, types, imports, and that generated files are current."""

from __future__ import annotations

import json
import subprocess
import sys
import tempfile
from pathlib import Path
from typing import Any

from ..formats.plan_document import SCHEMAS, schema_text
from .failures import StartFailure
from .settings import ROOT, Settings
from .supervisor import step

WEB = ROOT / "web"
SCHEMA = WEB / "src" / "data" / "schema.d.ts"
HELP = WEB / "src" / "shell" / "help.json"
GUIDE = ROOT / "docs" / "using.md"


def openapi() -> dict[str, Any]:
    """The OpenAPI document of the application."""
    from .application import make_app

    return make_app(Settings(database_url="mysql://nobody@127.0.0.1/none")).openapi()


def write_types(target: Path) -> None:
    """Generate the TypeScript types of the API."""
    with tempfile.NamedTemporaryFile("w", suffix=".json") as file:
        json.dump(openapi(), file)
        file.flush()
        _run(["npx", "--no-install", "openapi-typescript", file.name, "-o", str(target)], WEB)


def _types_are_current() -> None:
    with tempfile.TemporaryDirectory() as folder:
        fresh = Path(folder) / "schema.d.ts"
        write_types(fresh)
        if not SCHEMA.exists() or fresh.read_text() != SCHEMA.read_text():
            raise StartFailure("The types of the API are stale. Write them anew: .venv/bin/python -m rhodonite.server.checks")


def write_plan_schemas(folder: Path) -> None:
    """Write the JSON Schemas of the plan file and its changes from their models."""
    for name, model in SCHEMAS.items():
        (folder / name).write_text(schema_text(model))


def _plan_schemas_are_current() -> None:
    for name, model in SCHEMAS.items():
        path = ROOT / "docs" / name
        if not path.exists() or path.read_text() != schema_text(model):
            raise StartFailure(f"docs/{name} is stale. Write it anew: .venv/bin/python -m rhodonite.server.checks")


def with_help(guide: str) -> str:
    """The guide with the tables of what is understood, which the page shows by ``?``, made anew between their marks."""
    known = json.loads(HELP.read_text())
    typed = [
        f"| {one['field']} | {', '.join(f'`{each}`' for each in one['examples'])}; {one['note']} |" for one in known["typed"]
    ]
    keys = [
        f"| {one['where'] if number == 0 else ''} | {key} | {does} |"
        for one in known["keys"]
        for number, (key, does) in enumerate(one["keys"])
    ]
    for name, lines in (
        ("typed", ["| field | examples |", "|---|---|", *typed]),
        ("keys", ["| where | key | does |", "|---|---|---|", *keys]),
    ):
        head, rest = guide.split(f"<!-- {name} -->\n")
        tail = rest.split("<!-- end -->\n", 1)[1]
        guide = head + f"<!-- {name} -->\n" + "\n".join(lines) + "\n<!-- end -->\n" + tail
    return guide


def _help_is_current() -> None:
    if with_help(GUIDE.read_text()) != GUIDE.read_text():
        raise StartFailure("docs/using.md is stale. Write it anew: .venv/bin/python -m rhodonite.server.checks")


def _run(command: list[str], folder: Path) -> None:
    done = subprocess.run(command, cwd=folder, capture_output=True, text=True, check=False)
    if done.returncode:
        print(f"\n{done.stdout}{done.stderr}", flush=True)
        raise StartFailure(f"{Path(command[0]).name} {' '.join(command[1:4])} found something to mend; see above.")


def run_all() -> None:
    """Run every check; the first that finds something ends it."""
    tools = Path(sys.executable).parent
    for text, command, folder in (
        ("Linting Python", [str(tools / "ruff"), "check", "."], ROOT),
        ("Checking Python's format", [str(tools / "ruff"), "format", "--check", "."], ROOT),
        ("Checking Python's types", [str(tools / "mypy")], ROOT),
        ("Checking imports between the wings", [str(tools / "lint-imports")], ROOT),
        ("Checking TypeScript's types", ["npx", "--no-install", "tsc", "--noEmit"], WEB),
        ("Linting TypeScript", ["npx", "--no-install", "biome", "ci", "."], WEB),
    ):
        with step(text):
            _run(command, folder)
    with step("Checking that the API's types are current"):
        _types_are_current()
        _plan_schemas_are_current()
        _help_is_current()


if __name__ == "__main__":
    write_plan_schemas(ROOT / "docs")
    write_types(SCHEMA)
    GUIDE.write_text(with_help(GUIDE.read_text()))
