"""What may come in: the types and bounds of ids, days, names and lists, and a body that is read strictly and no further
than its route needs."""

from __future__ import annotations

from collections.abc import Callable, Coroutine
from datetime import date
from typing import Annotated, Any, ClassVar, Literal

import orjson
from fastapi import APIRouter, Request, Response
from fastapi.routing import APIRoute
from pydantic import AfterValidator, BaseModel, Field, WithJsonSchema, model_validator
from starlette.exceptions import HTTPException
from starlette.types import Message

from ...core.common.bounds import FIRST_DAY, LAST_DAY, MOST_PEOPLE, is_id


def _read_id(text: str) -> str:
    if not is_id(text):
        raise ValueError("an id is a UUID, such as 0190a6f2-7c1e-7d3a-9f54-2b1c8e6d4a10")
    return text.lower()


Id = Annotated[str, AfterValidator(_read_id), WithJsonSchema({"type": "string", "format": "uuid"})]
"""A UUID as text, in lower case."""
After = Id | Literal["end"] | None
"""The one to stand behind; null: the first place; “end”: the last."""
Day = Annotated[date, Field(ge=FIRST_DAY, le=LAST_DAY)]
Ids = Annotated[list[Id], Field(min_length=1, max_length=5000)]
People = Annotated[list[Id], Field(max_length=MOST_PEOPLE)]
Name = Annotated[str, Field(max_length=1000)]
"""A name as it is typed; how long it may be is a rule of the thing that it names."""
Code = Annotated[str, Field(max_length=20)]
"""The code of a project, in a body."""
Revision = Annotated[int, Field(ge=0, le=2**53)]
Fields = Annotated[dict[Annotated[str, Field(max_length=80)], Any], Field(max_length=80)]
"""Fields of a task by name; ``core.tasks.typed_fields`` says what each may be."""

KB, MB = 1 << 10, 1 << 20
USUAL_BODY = 256 * KB


class TooLarge(HTTPException):
    """A body larger than its route needs.

    Args:
        most: the bytes that it may have.
        file: True where that is a file.
    """

    def __init__(self, most: int, *, file: bool = False) -> None:
        size = f"{most // MB} MB" if most >= MB else f"{most // KB} kB"
        what = f"The file is larger than {size}" if file else f"That is larger than {size}"
        super().__init__(
            413, f"{what}, which is the most here. {'Choose a smaller one, or split it' if file else 'Send it in parts'}."
        )


class Changes(BaseModel):
    """A body of which only what is sent changes. Null is a value only for the fields in ``may_be_null``."""

    may_be_null: ClassVar[frozenset[str]] = frozenset()

    @model_validator(mode="before")
    @classmethod
    def _no_nulls(cls, sent: Any) -> Any:
        if isinstance(sent, dict):
            for name, value in sent.items():
                if value is None and name in cls.model_fields and name not in cls.may_be_null:
                    raise ValueError(f"{name} needs a value; leave it out where it stays as it is")
        return sent

    @property
    def sent(self) -> dict[str, Any]:
        """What was sent, by name."""
        return self.model_dump(exclude_unset=True)


class _Body(Request):
    """A request whose JSON is read strictly: UTF-8 without lone surrogates, numbers that there are, not nested without end."""

    async def json(self) -> Any:
        if not hasattr(self, "_json"):
            self._json = orjson.loads(await self.body())
        return self._json


class Route(APIRoute):
    """A route that refuses a body larger than it needs before anything of it is read."""

    def get_route_handler(self) -> Callable[[Request], Coroutine[Any, Any, Response]]:
        handle = super().get_route_handler()
        extra = self.openapi_extra or {}
        most = int(extra.get("x-body", USUAL_BODY))

        async def limited(request: Request) -> Response:
            attached = request.app.state.settings.file_limit_mb * MB
            file = extra.get("x-file") or (None if most else attached)
            limit = most or attached + MB
            too_large = TooLarge(file, file=True) if file else TooLarge(limit)
            length = request.headers.get("content-length", "0")
            if not length.isdigit() or int(length) > limit:
                raise too_large
            body = _Body(request.scope, _counting(request.receive, limit, too_large))
            return await handle(body)

        return limited


def _counting(receive: Callable[[], Any], most: int, too_large: TooLarge) -> Callable[[], Coroutine[Any, Any, Message]]:
    """Receive no more bytes than ``most``, whatever the request said of its length."""
    seen = 0

    async def counted() -> Message:
        nonlocal seen
        message: Message = await receive()
        seen += len(message.get("body", b""))
        if seen > most:
            raise too_large
        return message

    return counted


def make_router(tag: str) -> APIRouter:
    """A router whose routes read bodies strictly."""
    return APIRouter(tags=[tag], route_class=Route)
