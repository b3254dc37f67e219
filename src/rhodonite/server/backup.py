"""Backup and restore: every table, exactly, in one compressed file."""

from __future__ import annotations

import gzip
import os
import shutil
import subprocess
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import pymysql

from ..store.common.database import connection_settings
from .failures import StartFailure
from .mariadb import find_program

_HEAD = b"-- rhodonite backup 1\n"
_END = b"-- Dump completed"


@contextmanager
def _client_options(url: str) -> Iterator[tuple[str, str]]:
    """A file of connection options that only we can read, and the name of the database."""
    settings = connection_settings(url)
    with tempfile.NamedTemporaryFile("w", prefix="rhodonite-", suffix=".cnf") as file:
        os.chmod(file.name, 0o600)
        password = settings["password"].replace("\\", "\\\\").replace('"', '\\"')
        file.write(
            f'[client]\nhost={settings["host"]}\nport={settings["port"]}\nuser={settings["user"]}\npassword="{password}"\n'
        )
        file.flush()
        yield file.name, settings["database"]


def backup(url: str, target: Path) -> int:
    """Write all tables as they stand at one moment. The file appears only when it is whole. Returns its size in bytes."""
    half = target.with_name(target.name + ".part")
    with _client_options(url) as (options, name):
        command = [
            find_program("mariadb-dump", "mysqldump"), f"--defaults-extra-file={options}", "--single-transaction", "--hex-blob",
            "--default-character-set=utf8mb4", "--skip-lock-tables", "--no-tablespaces", "--skip-dump-date", name,
        ]  # fmt: skip
        with gzip.open(half, "wb", compresslevel=6) as out, tempfile.TemporaryFile() as errors:
            out.write(_HEAD)
            process = subprocess.Popen(command, stdout=subprocess.PIPE, stderr=errors)
            assert process.stdout is not None
            shutil.copyfileobj(process.stdout, out, 1 << 20)
            if process.wait():
                errors.seek(0)
                half.unlink(missing_ok=True)
                raise StartFailure(f"The backup failed: {errors.read().decode(errors='replace').strip()}")
    with open(half, "rb") as file:
        os.fsync(file.fileno())
    half.replace(target)
    return target.stat().st_size


def say_contents(url: str) -> str:
    """What a backup of a database holds, in words."""
    connection = pymysql.connect(**connection_settings(url))
    try:
        with connection.cursor() as cur:
            said = []
            for table, word in (("projects", "project"), ("tasks", "task"), ("files", "attachment")):
                cur.execute(f"SELECT COUNT(*) FROM {table}")
                ((number,),) = cur.fetchall()
                said.append(f"{number:,} {word}{'' if number == 1 else 's'}")
    finally:
        connection.close()
    return f"{said[0]}, {said[1]} and {said[2]}"


def check_backup(source: Path) -> None:
    """Raises StartFailure unless a file is a whole backup."""
    tail = b""
    try:
        with gzip.open(source, "rb") as file:
            if file.read(len(_HEAD)) != _HEAD:
                raise StartFailure(f"{source} is no backup of Rhodonite.")
            while block := file.read(1 << 20):
                tail = (tail + block)[-4096:]
    except (OSError, EOFError) as error:
        raise StartFailure(f"{source} cannot be read: {error}.") from error
    if _END not in tail:
        raise StartFailure(f"{source} is not whole: its end is missing. Nothing was changed.")


def restore(url: str, source: Path) -> None:
    """Replace all tables by those of a backup, which is checked first."""
    check_backup(source)
    with _client_options(url) as (options, name), tempfile.TemporaryFile() as errors:
        process = subprocess.Popen(
            [find_program("mariadb", "mysql"), f"--defaults-extra-file={options}", "--default-character-set=utf8mb4", name],
            stdin=subprocess.PIPE, stderr=errors,
        )  # fmt: skip
        assert process.stdin is not None
        try:
            process.stdin.write(_drop_everything(url))
            with gzip.open(source, "rb") as file:
                shutil.copyfileobj(file, process.stdin, 1 << 20)
            process.stdin.close()
        except BrokenPipeError:
            pass
        if process.wait():
            errors.seek(0)
            raise StartFailure(f"The restore failed: {errors.read().decode(errors='replace').strip()} Run it again.")


def _drop_everything(url: str) -> bytes:
    connection = pymysql.connect(**connection_settings(url))
    try:
        with connection.cursor() as cur:
            cur.execute("SELECT table_name FROM information_schema.tables WHERE table_schema = DATABASE()")
            names = [row[0] for row in cur.fetchall()]
    finally:
        connection.close()
    drops = "".join(f"DROP TABLE IF EXISTS `{name}`;\n" for name in names)
    return f"SET FOREIGN_KEY_CHECKS = 0;\n{drops}".encode()
