"""Errors as problem documents (RFC 9457): a stable type, a sentence a person can act on, and the fields concerned."""

from __future__ import annotations

import asyncio
import secrets
from typing import Any

import orjson
import pymysql
import structlog
from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import Response
from starlette.exceptions import HTTPException
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from ...core.common.errors import Clash, Forbidden, Missing, RuleError, Taken
from ...services.people.people import TooManyAttempts
from ...store.common.database import is_duplicate, is_locked, is_passing

log = structlog.get_logger()


class NotSignedIn(Exception):
    """The request carries no session that is open."""


def problem(status: int, kind: str, sentence: str, **more: Any) -> Response:
    """A problem document. ``kind`` is stable and names what went wrong."""
    body = {"type": f"/problems/{kind}", "status": status, "title": kind.replace("-", " "), "detail": sentence, **more}
    return Response(orjson.dumps(body), status, media_type="application/problem+json")


def add_problem_handlers(app: FastAPI) -> None:
    """Turn every error that the other wings raise into a problem document."""

    @app.exception_handler(RuleError)
    def rule(_: Request, error: RuleError) -> Response:
        return problem(422, "rule-broken", error.sentence, errors=[{"field": error.field, "detail": error.sentence}])

    @app.exception_handler(Clash)
    def clash(_: Request, error: Clash) -> Response:
        return problem(409, "edit-clash", error.sentence, clashes=error.fields)

    @app.exception_handler(Missing)
    def missing(_: Request, error: Missing) -> Response:
        return problem(404, "missing", error.sentence)

    @app.exception_handler(Forbidden)
    def forbidden(_: Request, error: Forbidden) -> Response:
        return problem(403, "forbidden", error.sentence)

    @app.exception_handler(NotSignedIn)
    def not_signed_in(_: Request, __: NotSignedIn) -> Response:
        return problem(401, "not-signed-in", "You are not signed in, or your session has ended. Sign in; what you typed is kept.")

    @app.exception_handler(TooManyAttempts)
    def too_many(_: Request, error: TooManyAttempts) -> Response:
        return problem(429, "too-many-attempts", error.sentence)

    @app.exception_handler(Taken)
    def taken(_: Request, error: Taken) -> Response:
        return problem(409, "id-taken", error.sentence)

    @app.exception_handler(RequestValidationError)
    def invalid(_: Request, error: RequestValidationError) -> Response:
        errors = [
            {"field": ".".join(str(p) for p in e["loc"][1:])[:200], "detail": e["msg"]} for e in error.errors()[:MOST_ERRORS]
        ]
        first = f"{errors[0]['field']}: {errors[0]['detail']}" if errors else "The request cannot be read."
        return problem(422, "invalid-request", first, errors=errors)

    @app.exception_handler(HTTPException)
    def http(_: Request, error: HTTPException) -> Response:
        words = {
            400: ("invalid-request", "The request cannot be read. Send what the API's document says."),
            404: ("missing", "There is nothing at this address."),
            405: ("no-such-method", "This address cannot be used that way."),
            413: ("too-large", str(error.detail)),
        }
        kind, sentence = words.get(error.status_code, ("refused", str(error.detail)))
        return problem(422 if error.status_code == 400 else error.status_code, kind, sentence)

    @app.exception_handler(pymysql.MySQLError)
    def database(request: Request, error: pymysql.MySQLError) -> Response:
        return _database_problem(request, error)


# Of a value that a column cannot hold: too long, out of its range, of the wrong form, or naming what is not there.
_WRONG_VALUES = {1048, 1264, 1265, 1292, 1366, 1406, 1411, 1452, 1216, 3819, 4025}


def _database_problem(request: Request, error: pymysql.MySQLError) -> Response:
    """Passing errors are tried again; permanent ones never are, so they say what is wrong."""
    if is_passing(error):
        log.warning("database", route=route_of(request.scope), exc_info=error)
        if is_locked(error):
            return problem(503, "busy", "Much is being written here at this moment. What you typed is kept; it is sent again.")
        return problem(503, "database-away", "The database did not answer. What you typed is kept; try again in a moment.")
    if is_duplicate(error):
        by_id = "'PRIMARY'" in str(error)
        return problem(409, "id-taken", Taken.sentence) if by_id else problem(409, "name-taken", NAME_TAKEN)
    if error.args and error.args[0] in _WRONG_VALUES:
        log.warning("refused by the database", route=route_of(request.scope), exc_info=error)
        return problem(422, "rule-broken", "A value is too long, or names what is not there any more. Load the page again.")
    return unexpected(request.scope, error)


NAME_TAKEN = "Something of that name is there already. Load the page again, and choose another name."
MOST_ERRORS = 50


def route_of(scope: Scope) -> str:
    """The pattern of the route that a request went to: an address itself may hold a secret."""
    return f"{scope.get('method', '')} {getattr(scope.get('route'), 'path', 'other')}"


def unexpected(scope: Scope, error: BaseException) -> Response:
    """The answer to what nobody foresaw, with a number by which its line in the log is found."""
    number = secrets.token_hex(5)
    log.error("unexpected", number=number, route=route_of(scope), exc_info=error)
    sentence = f"Something went wrong on the server, and nothing was changed. Tell an administrator the number {number}."
    return problem(500, "unexpected", sentence, number=number)


class UnexpectedErrors:
    """Answers what nobody foresaw, and logs it once."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        begun = False

        async def watch(message: Message) -> None:
            nonlocal begun
            begun = begun or message["type"] == "http.response.start"
            await send(message)

        try:
            await self.app(scope, receive, watch)
        except asyncio.CancelledError:
            if scope["type"] != "http" or begun:
                raise
            # the server is being stopped: another one answers in a moment
            await problem(503, "stopping", "The server is starting anew. What you typed is kept; it is sent again.")(
                scope, receive, send
            )
        except Exception as error:
            if scope["type"] != "http":
                raise
            answer = unexpected(scope, error)
            if not begun:
                await answer(scope, receive, send)
