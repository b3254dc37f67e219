"""Modules of the web application that draw nothing, run by Node without a browser."""

from __future__ import annotations

import json
import os
import subprocess
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest

from rhodonite.api.people.sessions import VOCABULARY

WEB = Path(__file__).parents[2] / "web"


class Modules:
    """``modules("/src/parts/format.ts", "module.count(number, 'task')", number=3)`` gives the value of an expression,
    in which ``load("/src/…")`` gives a module that this one uses too."""

    def __init__(self) -> None:
        script = Path(__file__).with_name("modules.mjs")
        environment = {**os.environ, "TZ": "Europe/London"}
        self._node = subprocess.Popen(
            ["node", str(script), str(WEB)], stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True, env=environment, cwd=WEB
        )
        assert self._line() == "ready"

    def _line(self) -> str:
        assert self._node.stdout is not None
        line = self._node.stdout.readline()
        assert line, "Node has ended."
        return line.strip()

    def __call__(self, module: str, code: str, **args: Any) -> Any:
        assert self._node.stdin is not None
        self._node.stdin.write(json.dumps({"module": module, "code": code, "args": args}) + "\n")
        self._node.stdin.flush()
        answer = json.loads(self._line())
        assert "error" not in answer, answer["error"]
        return answer["value"]

    def close(self) -> None:
        """Let Node end."""
        self._node.communicate(timeout=20)


@pytest.fixture(scope="session")
def modules() -> Iterator[Modules]:
    one = Modules()
    one("/src/data/vocabulary.ts", "module.learn(vocabulary)", vocabulary=VOCABULARY.model_dump())
    yield one
    one.close()
