"""The command line: ``./rhodonite COMMAND``."""

from __future__ import annotations

import json
import os
import subprocess
import sys
from pathlib import Path
from typing import Annotated

import typer
from pydantic import ValidationError

from ..services.people.people import create_administrator, demo_people
from ..store.common.database import Database
from ..store.common.migrate import migrate
from ..store.people.people import all_people
from . import backup as backups
from . import checks, compute, web_build
from .failures import StartFailure, said_in_a_sentence
from .settings import ROOT, Settings
from .supervisor import own_or_given_database, run, say, step

app = typer.Typer(
    add_completion=False, no_args_is_help=True, pretty_exceptions_enable=False, help="Rhodonite: plan, run and report projects."
)
admin = typer.Typer(no_args_is_help=True, help="Administer the installation from the command line.")
app.add_typer(admin, name="admin")
app.add_typer(compute.app, name="compute")


def _settings() -> Settings:
    try:
        return Settings()
    except ValidationError as error:
        first = error.errors()[0]
        raise StartFailure(f"RHODONITE_{str(first['loc'][0]).upper()} is not valid: {first['msg']}.") from error


def _build_web() -> None:
    if web_build.packages_missing():
        with step("Installing the packages of the web application"):
            web_build.install_packages()
    if web_build.build_missing():
        with step("Building the web application"):
            web_build.build()


def _migrate(settings: Settings) -> None:
    with step("Bringing the tables up to date"):
        database = Database(settings.database_url, 2)
        migrate(database)
        database.close()


@app.command()
def demo(
    fresh: Annotated[bool, typer.Option("--fresh", help="Throw the demo's data away and start over.")] = False,
    yes: Annotated[bool, typer.Option("--yes", help="Do not ask before throwing data away.")] = False,
) -> None:
    """Start with the made-up organisation, and keep what is done to it."""
    from ..demo.organisation import fill_demo, is_filled

    settings = _settings()
    if settings.database_url:
        raise StartFailure("The demo uses its own database. Unset RHODONITE_DATABASE_URL, or use ./rhodonite serve.")
    if fresh:
        _throw_away(settings, yes)
    _build_web()

    def prepare(ready: Settings) -> None:
        _migrate(ready)
        database = Database(ready.database_url, 4)
        if not database.read(is_filled):
            with step("Filling in the demo organisation"):
                fill_demo(database, ready.clock())
        database.close()

    def announce(ready: Settings) -> None:
        say(f"\nRhodonite is ready: http://{ready.host}:{ready.port}")
        database = Database(ready.database_url, 2)
        names = ", ".join(f"{person.name} ({person.role})" for person in database.read(demo_people))
        database.close()
        say(f"Enter without a password as {names}. Ctrl-C stops everything.")

    run(settings, prepare, announce)


def _throw_away(settings: Settings, yes: bool) -> None:
    import shutil

    from .supervisor import lock_data

    folder = settings.data / "mariadb"
    if not folder.exists():
        return
    lock_data(settings.data).close()
    if not yes and not typer.confirm(f"Throw away all data in {folder}?"):
        raise StartFailure("Nothing was thrown away.")
    shutil.rmtree(folder)


@app.command()
def serve() -> None:
    """Start for real use. Settings come from the environment, see docs/settings.md."""
    settings = _settings()
    _build_web()

    def announce(ready: Settings) -> None:
        say(f"\nRhodonite is ready: {ready.base_url or f'http://{ready.host}:{ready.port}'}")
        database = Database(ready.database_url, 2)
        if not database.read(all_people):
            say("Nobody can sign in yet. Add the first administrator: ./rhodonite admin create-person E-MAIL")
        database.close()

    run(settings, _migrate, announce)


@admin.command("create-person")
def create_person(
    email: str,
    name: Annotated[str, typer.Option(prompt="Name", help="The person's name.")],
    role: Annotated[str, typer.Option(help="administrator, manager, member or guest.")] = "administrator",
) -> None:
    """Add a person with a password, asked for or read from RHODONITE_PASSWORD: the first administrator."""
    settings = _settings()
    password = os.environ.get("RHODONITE_PASSWORD") or typer.prompt("Password", hide_input=True, confirmation_prompt=True)
    with own_or_given_database(settings) as url:
        database = Database(url, 2)
        migrate(database)
        person = database.write(create_administrator, settings.clock(), name, email, password, role)
        database.close()
    say(f"{person.name} can sign in as {person.email}, role {person.role}.")


@app.command()
def backup(file: Path) -> None:
    """Write everything into one file, also while Rhodonite runs."""
    file = compute.here(file)
    with own_or_given_database(_settings()) as url:
        size = backups.backup(url, file)
        contents = backups.say_contents(url)
    say(f"Everything is in {file}, {size / 2**20:.1f} MB: {contents}.")


@app.command()
def restore(file: Path, yes: Annotated[bool, typer.Option("--yes", help="Do not ask before replacing data.")] = False) -> None:
    """Replace everything by a backup."""
    file = compute.here(file)
    backups.check_backup(file)
    settings = _settings()
    if not yes and not typer.confirm("Replace all data by the backup?"):
        raise StartFailure("Nothing was changed.")
    with own_or_given_database(settings) as url:
        backups.restore(url, file)
        database = Database(url, 2)
        migrate(database)
        database.close()
    say(f"Everything is as it was in {file}. Restart Rhodonite if it runs.")


@app.command(context_settings={"allow_extra_args": True, "ignore_unknown_options": True, "help_option_names": []})
def test(context: typer.Context) -> None:
    """Run all checks and tests. Arguments are passed on to pytest."""
    _build_web()
    checks.run_all()
    chosen = any(word == "-n" or word.startswith(("-n", "--numprocesses")) for word in context.args)
    # each worker has a database, a port and an instance of its own
    spread = [] if chosen else ["-n", str(min(4, os.cpu_count() or 1)), "--dist", "worksteal"]
    command = [sys.executable, "-m", "pytest", "--durations=25", *spread, *context.args]
    raise typer.Exit(subprocess.call(command, cwd=ROOT))


@app.command()
def check() -> None:
    """Run the checks without the tests."""
    _build_web()
    checks.run_all()


@app.command(context_settings={"allow_extra_args": True, "ignore_unknown_options": True, "help_option_names": []})
def bench(context: typer.Context) -> None:
    """Measure at size: ratios against bare SQL in the same run, and frames in Chromium."""
    _build_web()
    raise typer.Exit(subprocess.call([sys.executable, "-m", "tests.bench", *context.args], cwd=ROOT))


@app.command("api-document")
def api_document(into: Annotated[Path | None, typer.Option(help="A file, instead of printing it")] = None) -> None:
    """Print the OpenAPI document."""
    if into is None:
        print(json.dumps(checks.openapi(), indent=1))
        return
    unfinished = into.with_suffix(".new")
    unfinished.write_text(json.dumps(checks.openapi()), "utf-8")
    unfinished.replace(into)


def main() -> None:
    """Run a command; a failure is one sentence and a non-zero exit, 2 where a file is not valid."""
    with said_in_a_sentence():
        app()
