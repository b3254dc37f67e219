"""How a page sends changes: one after the other, again while the server is away, and past one that is refused."""

from __future__ import annotations

from typing import Any

import pytest

from .conftest import Modules

API = "/src/data/api.ts"

#: Sends one change for each list of answers; each change takes the next of its answers until one is good or refuses it.
#: Gives what came of each, and which change each request was for, with what went along.
SEND = """(async () => {
    const asked = [], ids = [];
    const answer = (status) => status === 0
        ? Promise.reject(new TypeError('no network'))
        : Promise.resolve({ data: status, error: { type: '/problems/refused', detail: 'No: ' + status, errors: [{ field: 'title' }] },
              response: { ok: status < 300, status } });
    const asks = plan.map((statuses, change) => {
        const left = [...statuses];
        return module.send((headers) => {
            asked.push(change);
            ids.push([change, headers['Rhodonite-Change']]);
            setTimeout(() => window.dispatchEvent(new Event('online')), 1);
            return answer(left.shift());
        }, how).then((value) => 'done ' + value, (problem) => problem.kind + ' ' + problem.sentence + ' ' + problem.field);
    });
    const came = await Promise.all(asks);
    return { came, asked, ids };
})()"""


def send(modules: Modules, *plan: list[int], **how: str) -> Any:
    return modules(API, SEND, plan=list(plan), how=how)


def test_changes_arrive_in_the_order_in_which_they_were_made(modules: Modules) -> None:
    answer = send(modules, [201], [200], [200])
    assert answer["asked"] == [0, 1, 2]
    assert answer["came"] == ["done 201", "done 200", "done 200"]


@pytest.mark.parametrize("away", [0, 502, 503, 504])
def test_while_the_server_is_away_a_change_is_sent_again_with_the_same_id_and_the_next_wait(modules: Modules, away: int) -> None:
    answer = send(modules, [away, away, 200], [200])
    assert answer["asked"] == [0, 0, 0, 1]
    assert answer["came"] == ["done 200", "done 200"]
    first = {one for change, one in answer["ids"] if change == 0}
    second = {one for change, one in answer["ids"] if change == 1}
    assert len(first) == len(second) == 1
    assert first != second


@pytest.mark.parametrize("status", [400, 403, 404, 409, 413, 422, 500])
def test_a_refused_change_says_why_and_those_after_it_go_on(modules: Modules, status: int) -> None:
    answer = send(modules, [200], [status], [200])
    assert answer["asked"] == [0, 1, 2]
    assert answer["came"] == ["done 200", f"refused No: {status} title", "done 200"]


def test_changes_wait_for_a_new_sign_in(modules: Modules) -> None:
    # the dialog signs in through the same store
    signs_in = "const status = await load('/src/data/save-status.ts'); setTimeout(() => status.saveStatus.signedIn(), 5);"
    answer = modules(API, SEND.replace("{", "{" + signs_in, 1), plan=[[401, 200], [200]], how={})
    assert answer["asked"] == [0, 0, 1]
    assert answer["came"] == ["done 200", "done 200"]


def test_consent_and_draft_go_along(modules: Modules) -> None:
    code = """(async () => { let seen; await module.send((headers) => { seen = headers;
        return Promise.resolve({ data: 1, response: { ok: true, status: 200 } }); }, how); delete seen['Rhodonite-Change']; return seen; })()"""
    assert modules(API, code, how={}) == {}
    assert modules(API, code, how={"consent": "ask 2"}) == {"Rhodonite-Ripple": "ask 2"}
    assert modules(API, code, how={"consent": "all 7", "draft": "d"}) == {"Rhodonite-Ripple": "all 7", "Rhodonite-Draft": "d"}


def test_ids_are_version_seven_and_of_the_hour(modules: Modules) -> None:
    ids = modules(API, "Array.from({ length: 200 }, () => module.newId())")
    assert len(set(ids)) == 200
    now = modules(API, "Date.now()")
    for one in ids:
        assert one[14] == "7"
        assert one[19] in "89ab"
        assert 0 <= now - int(one[:8] + one[9:13], 16) < 10_000


@pytest.mark.parametrize(
    ("body", "said"),
    [
        ({"type": "/problems/forbidden", "detail": "Only a lead may."}, ["forbidden", "Only a lead may.", None]),
        ({"type": "/problems/invalid", "detail": "No.", "errors": [{"field": "start"}]}, ["invalid", "No.", "start"]),
        ({}, ["unexpected", "Something went wrong on the server. Try again.", None]),
        (None, ["unexpected", "Something went wrong on the server. Try again.", None]),
    ],
)
def test_what_was_refused_is_said_in_a_sentence(modules: Modules, body: Any, said: list[str | None]) -> None:
    code = """module.ask(Promise.resolve({ error: body, response: { ok: false, status: 422 } }))
        .then(() => 'nothing', (one) => [one.kind, module.sentence(one), one.field])"""
    assert modules(API, code, body=body) == said
