"""Copies of tasks, tasks that move to another project, and two tasks that become one."""

from __future__ import annotations

from fastapi.responses import Response
from pydantic import BaseModel, Field

from ...services.common.context import new_id
from ...services.talk import merging
from ...services.tasks import copying
from ...services.tasks.projects import NewProject
from ..common.inputs import Code, Day, Id, make_router
from ..common.use import Using, needs
from .tasks import RowsOut, Since, rows_response

router = make_router("tasks")


class CopyIn(BaseModel):
    """What is to be copied or moved, and to where."""

    ids: dict[Id, Id] = Field(description="By task the id that its copy gets, made by the client", min_length=1, max_length=2000)
    code: Code = Field(description="Of the project that it goes to; one must be allowed to edit there")
    parent_id: Id | None = Field(None, description="Under which task there")
    branch: bool = Field(True, description="With the tasks below")
    hanging: bool = Field(True, description="With description, checklists and attachments; comments where it moves")
    links: bool = Field(True, description="With the links among what comes along")
    moves: bool = Field(False, description="True where the originals go")


class CopyPreview(BaseModel):
    """What would be lost on the way, in words."""

    lost: list[str]


class MergeIn(BaseModel):
    """Which task goes into which."""

    task_id: Id
    into_id: Id


def _wish(body: CopyIn) -> copying.CopyWish:
    return copying.CopyWish(**body.model_dump())


@router.post("/projects/{code}/copies/preview", openapi_extra=needs("edit"))
def preview_copy(code: str, body: CopyIn, use: Using) -> CopyPreview:
    """What would be lost on the way to another project. It only reads."""
    return CopyPreview(lost=use.read(copying.preview_copy, code, _wish(body)))


@router.post("/projects/{code}/copies", openapi_extra=needs("edit"), response_model=RowsOut)
def copy_tasks(code: str, body: CopyIn, use: Using, since: Since = None) -> Response:
    """Copy tasks, or move them to another project: there fields, states, kinds and marks are matched by name."""
    use.write(copying.copy_tasks, code, _wish(body))
    return rows_response(use, code, since)


@router.post("/projects/{code}/tasks/merge", openapi_extra=needs("edit"), response_model=RowsOut)
def merge_tasks(code: str, body: MergeIn, use: Using, since: Since = None) -> Response:
    """Make two tasks one."""
    use.write(merging.merge_tasks, code, body.task_id, body.into_id)
    return rows_response(use, code, since)


class ProjectOfTask(BaseModel):
    """The project that a task becomes."""

    id: Id = Field(default_factory=new_id)
    code: str = Field(max_length=20, examples=["BAR"])
    name: str = Field(max_length=200)
    start_day: Day
    private: bool = False


class ProjectCode(BaseModel):
    """The code of the project that was started."""

    code: str


@router.post("/tasks/{task_id}/project", openapi_extra=needs("create_project"), status_code=201)
def make_project(task_id: Id, body: ProjectOfTask, use: Using) -> ProjectCode:
    """Start a project from a task that one sees: the tasks below it and what is left to tick become tasks there."""
    new = NewProject(body.id, body.code, body.name, "", body.start_day, body.private)
    return ProjectCode(code=use.write(merging.make_project, task_id, new))
