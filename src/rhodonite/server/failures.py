"""How a command that fails says so: in one sentence, and with an exit status that is not zero."""

from __future__ import annotations

import sys
from collections.abc import Iterator
from contextlib import contextmanager

from ..core.common.errors import RuleError
from ..formats.plan_file import FileError


class StartFailure(Exception):
    """Something that keeps Rhodonite from starting, in one sentence."""


@contextmanager
def said_in_a_sentence() -> Iterator[None]:
    """End the program with status 2 where a file is not valid, with 1 where a command fails otherwise."""
    try:
        yield
    except FileError as error:
        _end(error.sentence, 2)
    except (StartFailure, RuleError) as error:
        _end(str(getattr(error, "sentence", error)), 1)
    except OSError as error:
        where = f" ({error.filename})" if error.filename else ""
        _end(f"{error.strerror or error}{where}. Make sure there is room and that the folder can be written.", 1)


def _end(sentence: str, status: int) -> None:
    print(f"rhodonite: {sentence}", file=sys.stderr)
    sys.exit(status)
