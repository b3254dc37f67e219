"""What hangs on a task: comments, attachments, checklists, relations, and who follows it."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any, Literal

from fastapi import Body, File, Form, Request, UploadFile
from fastapi.responses import Response
from pydantic import BaseModel, Field

from ...core.talk.notices import Following, Reason
from ...core.talk.parts import File as FilePart
from ...core.talk.parts import RelationType
from ...core.tasks.custom_fields import LONGEST_HTML
from ...formats.media import OTHER, SHOWN
from ...services.common.context import Actor, new_id
from ...services.overview.lenses import Hanging
from ...services.talk import kept_checklists as templates
from ...services.talk import parts
from ..common.inputs import MB, After, Changes, Id, Name, make_router
from ..common.use import Using, needs

router = make_router("tasks")
Item = Annotated[str, Field(max_length=10_000)]
Reaction = Literal["agree", "thanks", "seen", "unsure"]


class CommentOut(BaseModel):
    """What somebody said. ``body`` is clean HTML."""

    id: str
    person_id: str
    at: datetime
    body: str
    quotes_id: str | None
    reactions: dict[str, list[str]] = Field(description="By reaction who gave it")
    edited_at: datetime | None
    resolved_at: datetime | None
    resolved_by: str | None


class FileOut(BaseModel):
    """An attachment. ``shown`` says whether a page can show it; else it is only for saving."""

    id: str
    person_id: str
    at: datetime
    name: str
    media_type: str
    size: int = Field(description="Bytes")
    shown: bool


class ChecklistItemOut(BaseModel):
    """One thing to tick."""

    id: str
    text: str
    done_at: datetime | None
    done_by: str | None


class ChecklistOut(BaseModel):
    """A list of things to tick."""

    id: str
    name: str
    checks: list[ChecklistItemOut]


class RelatedOut(BaseModel):
    """A relation to another task, besides links."""

    id: str
    type: RelationType
    word: str = Field(examples=["duplicate of"])
    outgoing: bool = Field(description="True where this task says it; False where the other one does")
    task_id: str
    code: str
    number: int
    title: str
    state_class: str


class FollowerOut(BaseModel):
    """Who follows a task, and why."""

    person_id: str
    reason: Reason


class CommentNew(BaseModel):
    """Something to be said."""

    id: Id = Field(default_factory=new_id, description="UUID of version 7, made by the client")
    body: str = Field(max_length=LONGEST_HTML, examples=["<p>Sand comes Thursday.</p>"])
    quotes_id: Id | None = Field(None, description="The comment that it answers")


class CommentEdit(BaseModel):
    """A comment rewritten by its writer, resolved or opened again, or given a reaction."""

    body: str | None = Field(None, max_length=LONGEST_HTML)
    resolved: bool | None = None
    reaction: Reaction | None = None
    on: bool = True


class Made(BaseModel):
    """What was made."""

    id: str


class FileEdit(BaseModel):
    """Another name for an attachment."""

    name: Name


class ChecklistNew(BaseModel):
    """A checklist to be added, with the text of each thing to tick."""

    id: Id = Field(default_factory=new_id)
    name: Name
    items: list[Item] = Field([], max_length=500)


class ChecklistEdit(Changes):
    """Another name, or another place: behind which other checklist of the task, or null for the first."""

    may_be_null = frozenset({"after_id"})

    name: Name | None = None
    after_id: After = None


class CheckNew(BaseModel):
    """A thing to tick."""

    id: Id = Field(default_factory=new_id)
    text: Item


class ChecksNew(BaseModel):
    """Things to tick, in order."""

    items: list[CheckNew] = Field(min_length=1, max_length=500)
    after_id: After = Field("end", description="The one to stand behind; null: first; “end”: last")


class CheckEdit(Changes):
    """A thing ticked or not, another text, or another place."""

    may_be_null = frozenset({"after_id", "checklist_id"})

    done: bool | None = None
    text: Item | None = None
    after_id: After = None
    checklist_id: Id | None = None


class ToTask(BaseModel):
    """The id of the task that a line of a checklist becomes."""

    id: Id = Field(default_factory=new_id)


class TemplateOut(BaseModel):
    """A checklist that a project keeps for loading."""

    id: str
    name: str
    items: list[str]


class TemplateNew(BaseModel):
    """The checklist of a task that the project is to keep."""

    id: Id = Field(default_factory=new_id)
    checklist_id: Id


class RelationNew(BaseModel):
    """How a task stands to another."""

    id: Id = Field(default_factory=new_id)
    to_id: Id
    type: RelationType


class FollowEdit(BaseModel):
    """What one says of following a task oneself; null: what follows from owning, helping and writing holds again."""

    how: Following | None


def hanging_out(actor: Actor, hanging: Hanging) -> dict[str, Any]:
    """What hangs on a task, as the API gives it, times in local time."""

    def local(at: datetime | None) -> datetime | None:
        return actor.clock.local(at) if at else None

    return {
        "comments": [
            CommentOut(
                id=one.id,
                person_id=one.person_id,
                at=actor.clock.local(one.at),
                body=one.body,
                quotes_id=one.quotes_id,
                reactions=dict(one.reactions),
                edited_at=local(one.edited_at),
                resolved_at=local(one.resolved_at),
                resolved_by=one.resolved_by,
            )
            for one in hanging.comments
        ],
        "files": [_file_out(actor, one) for one in hanging.files],
        "checklists": [
            ChecklistOut(
                id=made.id,
                name=made.name,
                checks=[
                    ChecklistItemOut(id=one.id, text=one.text, done_at=local(one.done_at), done_by=one.done_by)
                    for one in hanging.checks
                    if one.checklist_id == made.id
                ],
            )
            for made in hanging.checklists
        ],
        "relations": [RelatedOut(**{name: getattr(one, name) for name in RelatedOut.model_fields}) for one in hanging.relations],
        "followers": [FollowerOut(person_id=one, reason=why) for one, why in hanging.followers.people.items()],
        "following": hanging.followers.mine,
    }


def _file_out(actor: Actor, one: FilePart) -> FileOut:
    return FileOut(
        id=one.id,
        person_id=one.person_id,
        at=actor.clock.local(one.at),
        name=one.name,
        media_type=one.media_type,
        size=one.size,
        shown=one.media_type in SHOWN,
    )


@router.post("/tasks/{task_id}/comments", openapi_extra=needs("comment", MB), status_code=201)
def say(task_id: Id, body: CommentNew, use: Using) -> Made:
    """Comment on a task."""
    use.write(parts.say, task_id, body.id, body.body, body.quotes_id)
    return Made(id=body.id)


@router.patch("/comments/{comment_id}", openapi_extra=needs("comment", MB), status_code=204)
def edit_comment(comment_id: Id, body: CommentEdit, use: Using) -> None:
    """Rewrite one's own comment, resolve one, or give it a reaction."""
    if body.body is not None:
        use.write(parts.edit_comment, comment_id, body.body)
    else:
        use.write(parts.mark_comment, comment_id, resolved=body.resolved, reaction=body.reaction, on=body.on)


@router.delete("/comments/{comment_id}", openapi_extra=needs("comment"), status_code=204)
def delete_comment(comment_id: Id, use: Using) -> None:
    """Take away a comment: one's own, or as a lead anybody's."""
    use.write(parts.delete_comment, comment_id)


@router.post("/tasks/{task_id}/files", openapi_extra=needs("edit", 0), status_code=201)
def attach(
    task_id: Id,
    use: Using,
    request: Request,
    file: Annotated[UploadFile, File()],
    id: Annotated[Id | None, Form()] = None,
) -> FileOut:
    """Attach a file."""
    return _attach(task_id, use, request, file, id, inline=False)


@router.post("/tasks/{task_id}/pictures", openapi_extra=needs("comment", 0), status_code=201)
def add_picture(
    task_id: Id,
    use: Using,
    request: Request,
    file: Annotated[UploadFile, File()],
    id: Annotated[Id | None, Form()] = None,
) -> FileOut:
    """Keep a picture that stands within a text."""
    return _attach(task_id, use, request, file, id, inline=True)


def _attach(task_id: str, use: Using, request: Request, file: UploadFile, file_id: str | None, *, inline: bool) -> FileOut:
    most = request.app.state.settings.file_limit_mb << 20
    data = file.file.read(most + 1)
    made = use.write(parts.attach, task_id, file_id or new_id(), file.filename or "file", data, inline=inline, most=most)
    return _file_out(use.actor, made)


@router.get("/files/{file_id}", openapi_extra=needs("see"), response_class=Response)
def read_file(file_id: Id, use: Using, request: Request, save: bool = False) -> Response:
    """The bytes of a file. Only pictures, PDF and plain text are shown; nothing can run as a script of this address.

    A browser that has it asks each time whether it may still show it.
    """
    tag = f'"{file_id}"'
    if request.headers.get("if-none-match") == tag:
        use.read(parts.check_file, file_id)
        return Response(status_code=304, headers={"ETag": tag, "Cache-Control": "private, no-cache"})
    file, data = use.read(parts.read_file, file_id)
    shown = file.media_type in SHOWN and not save
    quoted = file.name.encode().hex(" ").replace(" ", "%")
    headers = {
        "Content-Disposition": f"{'inline' if shown else 'attachment'}; filename*=UTF-8''%{quoted}",
        "X-Content-Type-Options": "nosniff",
        "X-Frame-Options": "SAMEORIGIN",
        "Cache-Control": "private, no-cache",
        "ETag": tag,
        "Content-Security-Policy": "default-src 'none'; frame-ancestors 'self'"
        + ("" if file.media_type == "application/pdf" else "; sandbox"),
    }
    media_type = file.media_type if file.media_type in SHOWN else OTHER
    return Response(
        data, media_type=f"{media_type}; charset=utf-8" if media_type == "text/plain" else media_type, headers=headers
    )


@router.patch("/files/{file_id}", openapi_extra=needs("edit"), status_code=204)
def rename_file(file_id: Id, body: FileEdit, use: Using) -> None:
    """Give an attachment another name."""
    use.write(parts.rename_file, file_id, body.name)


@router.delete("/files/{file_id}", openapi_extra=needs("edit"), status_code=204)
def delete_file(file_id: Id, use: Using) -> None:
    """Take away an attachment: one's own, or as a lead anybody's."""
    use.write(parts.delete_file, file_id)


@router.post("/tasks/{task_id}/checklists", openapi_extra=needs("edit", 8 * MB), status_code=201)
def add_checklist(task_id: Id, body: ChecklistNew, use: Using) -> Made:
    """Add a checklist to a task."""
    use.write(parts.add_checklist, task_id, body.id, body.name, body.items)
    return Made(id=body.id)


@router.patch("/checklists/{list_id}", openapi_extra=needs("edit"), status_code=204)
def edit_checklist(list_id: Id, body: ChecklistEdit, use: Using) -> None:
    """Rename or move a checklist."""
    use.write(parts.edit_checklist, list_id, body.sent)


@router.delete("/checklists/{list_id}", openapi_extra=needs("edit"), status_code=204)
def delete_checklist(list_id: Id, use: Using) -> None:
    """Take a checklist away."""
    use.write(parts.delete_checklist, list_id)


@router.post("/checklists/{list_id}/checks", openapi_extra=needs("edit", 8 * MB), status_code=204)
def add_checks(list_id: Id, body: ChecksNew, use: Using) -> None:
    """Add things to tick."""
    use.write(parts.add_checks, list_id, [(one.id, one.text) for one in body.items], body.after_id)


@router.patch("/checks/{check_id}", openapi_extra=needs("edit"), status_code=204)
def edit_check(check_id: Id, body: CheckEdit, use: Using) -> None:
    """Tick a thing, or change its text or place."""
    use.write(parts.edit_check, check_id, body.sent)


@router.delete("/checks/{check_id}", openapi_extra=needs("edit"), status_code=204)
def delete_check(check_id: Id, use: Using) -> None:
    """Take a line out of a checklist."""
    use.write(parts.delete_check, check_id)


@router.post("/checks/{check_id}/task", openapi_extra=needs("edit"), status_code=201)
def check_to_task(check_id: Id, use: Using, body: Annotated[ToTask | None, Body()] = None) -> Made:
    """Turn a line of a checklist into a task below."""
    made = (body or ToTask()).id
    use.write(parts.check_to_task, check_id, made)
    return Made(id=made)


@router.get("/projects/{code}/checklists", openapi_extra=needs("see"))
def list_templates(code: str, use: Using) -> list[TemplateOut]:
    """The checklists that a project keeps for loading."""
    found = use.read(templates.list_templates, code)
    return [TemplateOut(id=one.id, name=one.name, items=one.items) for one in found]


@router.post("/projects/{code}/checklists", openapi_extra=needs("edit"), status_code=201)
def keep_template(code: str, body: TemplateNew, use: Using) -> Made:
    """Keep the checklist of a task for loading on others."""
    use.write(templates.keep_template, code, body.id, body.checklist_id)
    return Made(id=body.id)


@router.delete("/projects/{code}/checklists/{template_id}", openapi_extra=needs("edit"), status_code=204)
def delete_template(code: str, template_id: Id, use: Using) -> None:
    """Keep a checklist for loading no longer."""
    use.write(templates.delete_template, code, template_id)


@router.post("/tasks/{task_id}/relations", openapi_extra=needs("edit"), status_code=201)
def relate(task_id: Id, body: RelationNew, use: Using) -> Made:
    """Relate a task to another."""
    use.write(parts.relate, task_id, body.id, body.to_id, body.type)
    return Made(id=body.id)


@router.delete("/relations/{relation_id}", openapi_extra=needs("edit"), status_code=204)
def unrelate(relation_id: Id, use: Using) -> None:
    """Take a relation away."""
    use.write(parts.unrelate, relation_id)


@router.post("/relations/{relation_id}/close", openapi_extra=needs("edit"), status_code=204)
def close_duplicate(relation_id: Id, use: Using) -> None:
    """Drop a duplicate; its followers follow the task that stays."""
    use.write(parts.close_duplicate, relation_id)


@router.put("/tasks/{task_id}/following", openapi_extra=needs("see"), status_code=204)
def follow(task_id: Id, body: FollowEdit, use: Using) -> None:
    """Follow a task, leave it, or mute it."""
    use.write(parts.follow, task_id, body.how)
