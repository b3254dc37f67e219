"""Errors as problem documents (RFC 9457): a stable type, a sentence a person can act on, and the fields concerned."""

from __future__ import annotations

from typing import Any

import orjson
import pymysql
import structlog
from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import Response
from starlette.exceptions import HTTPException

from ..core.errors import RuleError
from ..services.context import Clash, Forbidden, Missing
from ..services.people import TooManyAttempts

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

    @app.exception_handler(RequestValidationError)
    def invalid(_: Request, error: RequestValidationError) -> Response:
        errors = [{"field": ".".join(str(p) for p in e["loc"][1:]), "detail": e["msg"]} for e in error.errors()]
        first = f"{errors[0]['field']}: {errors[0]['detail']}" if errors else "The request cannot be read."
        return problem(422, "invalid-request", first, errors=errors)

    @app.exception_handler(HTTPException)
    def http(_: Request, error: HTTPException) -> Response:
        words = {
            404: ("missing", "There is nothing at this address."),
            405: ("no-such-method", "This address cannot be used that way."),
        }
        kind, sentence = words.get(error.status_code, ("refused", str(error.detail)))
        return problem(error.status_code, kind, sentence)

    @app.exception_handler(pymysql.MySQLError)
    def database(request: Request, error: pymysql.MySQLError) -> Response:
        log.error("database", path=request.url.path, error=str(error))
        return problem(503, "database-away", "The database did not answer. What you typed is kept; try again in a moment.")

    @app.exception_handler(Exception)
    def unexpected(request: Request, error: Exception) -> Response:
        log.error("unexpected", path=request.url.path, exc_info=error)
        return problem(500, "unexpected", "Something went wrong on the server, and nothing was changed. Try again.")
