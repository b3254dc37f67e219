"""The checks that run before the tests: lint, format, types, imports, and that generated files are current."""

from __future__ import annotations

import json
import subprocess
import sys
import tempfile
from pathlib import Path
from typing import Any

from ..formats.plan_file import SCHEMAS, schema_text
from .mariadb import StartFailure
from .settings import ROOT, Settings
from .supervisor import step

WEB = ROOT / "web"
SCHEMA = WEB / "src" / "data" / "schema.d.ts"


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


if __name__ == "__main__":
    write_plan_schemas(ROOT / "docs")
    write_types(SCHEMA)
