"""Similar finished work and proposed texts, through the API."""

from __future__ import annotations

import json
import threading
from collections.abc import Iterator
from http.server import BaseHTTPRequestHandler, HTTPServer
from typing import Any

import pytest

from rhodonite.core.common.errors import RuleError
from rhodonite.standins.text_help import DescriptionWish, RemoteTextHelp, TasksWish
from tests.conftest import Caller, state_id


@pytest.fixture
def task(ines: Caller) -> dict[str, Any]:
    """A task to be cast, and two like it that are finished, one with steps below and one with a checklist."""
    finished = state_id(ines, "Finished")
    for title in ("Cast the sample bar", "Cast iron bars"):
        made = ines.add(title, effort="6 h")
        ines("POST", f"/tasks/{made['id']}/checklists", {"name": "Foundry", "items": [f"Pattern of {title}"]})
        ines.edit(ines.rows()[title], state_id=finished)
    return ines.add("Cast twelve bars")


def test_similar_work_is_found_with_its_range(ines: Caller, task: dict[str, Any]) -> None:
    ines.add("Cast more bars")  # not finished
    found = ines("GET", f"/tasks/{task['id']}/similar")
    assert [one["title"] for one in found["tasks"]] == ["Cast the sample bar", "Cast iron bars"]
    assert found["effort"] == {"least": 360, "middle": 360, "most": 360}
    assert (found["spent"], found["estimate"]) == (None, 360)


def test_what_similar_work_really_took_is_offered_as_an_estimate(ines: Caller, task: dict[str, Any]) -> None:
    ines("PATCH", "/projects/LAN", {"revision": 99, "time": True})
    for title, minutes in (("Cast the sample bar", 420), ("Cast iron bars", 540)):
        entry = {"task_id": ines.rows()[title]["id"], "day": "2027-03-16", "minutes": minutes}
        ines("POST", "/projects/LAN/time", {"entries": [entry]})
    found = ines("GET", f"/tasks/{task['id']}/similar")
    assert found["spent"] == {"least": 420, "middle": 480, "most": 540}
    assert found["estimate"] == 480


def test_the_stand_in_proposes_and_inserts_nothing(ines: Caller, task: dict[str, Any]) -> None:
    wish = {"points": ["old profile", "<b>12</b> bars"], "length": "long"}
    first = ines("POST", f"/tasks/{task['id']}/proposals/description", wish)
    assert first["source"] == "stand-in"
    assert "<p>Old profile.</p>" in first["html"]
    assert "&lt;b&gt;12&lt;/b&gt; bars" in first["html"]
    assert "Pattern of Cast iron bars" in first["html"]
    again = ines("POST", f"/tasks/{task['id']}/proposals/description", {**wish, "again": 1})
    assert again["html"] != first["html"]
    titles = ines("POST", f"/tasks/{task['id']}/proposals/tasks", {})["titles"]
    assert titles == ["Pattern of Cast the sample bar", "Pattern of Cast iron bars"]
    assert ines("GET", f"/tasks/{task['id']}")["description"] == ""


class Service(BaseHTTPRequestHandler):
    """A service that helps with texts."""

    def do_POST(self) -> None:
        wish = json.loads(self.rfile.read(int(self.headers["Content-Length"])))
        answer = {"html": f"<p>{wish['title']}</p>", "titles": [wish["title"]]} if "quiet" not in wish["title"] else []
        self.send_response(200)
        self.end_headers()
        self.wfile.write(json.dumps(answer).encode())

    def log_message(self, *_: Any) -> None:
        pass


@pytest.fixture
def service() -> Iterator[str]:
    """Its address."""
    server = HTTPServer(("127.0.0.1", 0), Service)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    yield f"http://127.0.0.1:{server.server_port}"
    server.shutdown()


def test_an_outside_service_is_asked_by_its_address(service: str) -> None:
    help_ = RemoteTextHelp(service + "/")
    assert help_.describe(DescriptionWish("Cast", (), "plain", "short", ())).html == "<p>Cast</p>"
    assert help_.propose_tasks(TasksWish("Cast", (), ())).titles == ("Cast",)
    with pytest.raises(RuleError, match="no answer that can be read"):
        help_.describe(DescriptionWish("quiet", (), "plain", "short", ()))
    with pytest.raises(RuleError, match="does not answer"):
        RemoteTextHelp("http://127.0.0.1:9").propose_tasks(TasksWish("Cast", (), ()))
