"""Goals: the tree of them, one in full, its values and progress notes, how it is closed."""

from __future__ import annotations

from fastapi import Response

from ...core.common.dates import say_day
from ...core.goals.measures import HEALTH_RULE
from ...core.goals.readings import say_part
from ...formats.goals_pdf import write_goals_pdf
from ...services.goals import goals, notes, on_projects, purpose, seen, tables
from ..common.brought import BroughtOut, brought_out
from ..common.inputs import MB, Code, Id, make_router
from ..common.tables import LARGEST_SHORT, TableFile, TableKind, read_upload, table_answer, writer_of
from ..common.use import Using, needs
from .shapes import (
    ChangedGoal,
    CloseIn,
    DueOut,
    FollowIn,
    GoalEdit,
    GoalNew,
    GoalOut,
    GoalsOut,
    MeasureIn,
    MeasurePreview,
    NoteNew,
    PurposeEdit,
    ServedOut,
    ValueNew,
    counted_out,
    detail_out,
    how_out,
    line_out,
)

router = make_router("goals")


@router.get("/goals", openapi_extra=needs("person"))
def read_goals(use: Using) -> GoalsOut:
    """All goals that one sees, with how far each is."""
    page = use.read(seen.read_goals)
    return GoalsOut(
        purpose=page.settings.purpose, sections=list(page.settings.sections),
        goals=[line_out(one, page.followed) for one in page.goals], may_aim=page.may_aim, rule=HEALTH_RULE,
    )  # fmt: skip


@router.post("/goals", openapi_extra=needs("see_people", MB), status_code=201)
def set_goal(body: GoalNew, use: Using) -> GoalOut:
    """Set a goal: of the organisation as a manager or administrator, of a team or a person as anybody but a guest."""
    use.write(goals.set_goal, body.read(use.actor.clock.utc()))
    return _detail(use, body.id)


@router.put("/goals/purpose", openapi_extra=needs("create_project"))
def set_purpose(body: PurposeEdit, use: Using) -> ChangedGoal:
    """Say what the organisation is there for, and which sections progress notes have; for managers and administrators."""
    use.write(purpose.set_purpose, body.purpose, body.sections)
    return ChangedGoal(change=use.actor.change_id)


@router.post("/goals/measure", openapi_extra=needs("person"))
def try_measure(body: MeasureIn, use: Using) -> MeasurePreview:
    """What a measure would find now, of projects that one sees."""
    found = use.read(notes.try_measure, body.measure.read(), body.first, body.last)
    return MeasurePreview(
        how=how_out(found.goal, found.standing),
        counted=[counted_out(found.goal, one) for one in found.counted],
        fields=found.fields,
    )


@router.get("/goals/due", openapi_extra=needs("person"))
def read_due(use: Using) -> list[DueOut]:
    """One’s own goals whose progress note is due."""
    return [DueOut(id=goal.id, title=goal.title, due=due) for goal, due in use.read(notes.due_of)]


@router.get("/goals.pdf", openapi_extra=needs("person"), response_class=Response)
def print_goals(use: Using) -> Response:
    """All goals that one sees, as a tree on paper."""
    page, now, names = use.read(seen.read_goals), use.actor.clock.now(), use.read(tables.owner_names)
    said = f"as {use.actor.person.name} sees them, {now:%A} {say_day(now.date())}"
    body = write_goals_pdf(page.settings.purpose, tables.lines_of(page.goals, names), said, now)
    return Response(body, media_type="application/pdf", headers={"Content-Disposition": 'attachment; filename="Goals.pdf"'})


@router.post("/goals/table", openapi_extra=needs("create_project", file=LARGEST_SHORT))
def import_goals(file: TableFile, use: Using) -> BroughtOut:
    """Bring goals in from a table, all rows or none; for managers and administrators."""
    return brought_out(use, use.write(tables.goals_in, read_upload(file, LARGEST_SHORT)))


@router.get("/goals.{form}", openapi_extra=needs("person"), response_class=Response)
def export_goals(form: TableKind, use: Using) -> Response:
    """All goals that one sees, as a table."""
    return table_answer(use, writer_of(form)(tables.HEADS, use.read(tables.goals_out)), form, "goals")


def _detail(use: Using, goal_id: str) -> GoalOut:
    return detail_out(use.read(notes.read_detail, goal_id), use.actor.person.id, use.actor.clock.local)


@router.get("/goals/{goal_id}", openapi_extra=needs("person"))
def read_goal(goal_id: Id, use: Using) -> GoalOut:
    """A goal in full."""
    return _detail(use, goal_id)


@router.patch("/goals/{goal_id}", openapi_extra=needs("person", MB))
def edit_goal(goal_id: Id, body: GoalEdit, use: Using) -> ChangedGoal:
    """Change a goal: its owner, administrators, and those who are named to edit it."""
    use.write(goals.edit_goal, goal_id, body.version, body.fields())
    return ChangedGoal(change=use.actor.change_id)


@router.delete("/goals/{goal_id}", openapi_extra=needs("person"))
def delete_goal(goal_id: Id, use: Using) -> ChangedGoal:
    """Take a goal away; those below it stand below the one above it."""
    use.write(goals.delete_goal, goal_id)
    return ChangedGoal(change=use.actor.change_id)


@router.post("/goals/{goal_id}/close", openapi_extra=needs("person"))
def close_goal(goal_id: Id, body: CloseIn, use: Using) -> ChangedGoal:
    """Close a goal with an outcome and a word on why; it keeps its last value."""
    use.write(goals.close_goal, goal_id, body.outcome, body.word)
    return ChangedGoal(change=use.actor.change_id)


@router.post("/goals/{goal_id}/open", openapi_extra=needs("person"))
def open_goal_again(goal_id: Id, use: Using) -> ChangedGoal:
    """Open a goal again that was closed."""
    use.write(goals.open_again, goal_id)
    return ChangedGoal(change=use.actor.change_id)


@router.post("/goals/{goal_id}/values", openapi_extra=needs("person"), status_code=201)
def add_value(goal_id: Id, body: ValueNew, use: Using) -> ChangedGoal:
    """Say where a goal that is measured by hand stood on a day."""
    use.write(notes.add_value, goal_id, body.id, body.day, body.value)
    return ChangedGoal(change=use.actor.change_id)


@router.delete("/goals/{goal_id}/values/{value_id}", openapi_extra=needs("person"))
def delete_value(goal_id: Id, value_id: Id, use: Using) -> ChangedGoal:
    """Take a value away."""
    use.write(notes.set_value_gone, goal_id, value_id, gone=True)
    return ChangedGoal(change=use.actor.change_id)


@router.post("/goals/{goal_id}/notes", openapi_extra=needs("person", MB), status_code=201)
def write_note(goal_id: Id, body: NoteNew, use: Using) -> ChangedGoal:
    """Write a progress note; followers are told, and those to whom it goes get it by mail."""
    sections = tuple((one.name, one.text) for one in body.sections)
    use.write(notes.write_note, goal_id, notes.NewNote(body.id, body.health, body.value, sections, tuple(body.people)))
    return ChangedGoal(change=use.actor.change_id)


@router.delete("/goals/notes/{note_id}", openapi_extra=needs("person"))
def delete_note(note_id: Id, use: Using) -> ChangedGoal:
    """Take a progress note away, with the value that it said."""
    use.write(notes.set_note_gone, note_id, gone=True)
    return ChangedGoal(change=use.actor.change_id)


@router.post("/goals/{goal_id}/read", openapi_extra=needs("person"), status_code=204)
def mark_read(goal_id: Id, use: Using) -> None:
    """Note that one has read what is said of a goal."""
    use.write(notes.mark_read, goal_id)


@router.put("/goals/{goal_id}/following", openapi_extra=needs("person"), status_code=204)
def follow(goal_id: Id, body: FollowIn, use: Using) -> None:
    """Follow a goal, or no more."""
    use.write(goals.set_following, goal_id, body.on)


@router.get("/projects/{code}/goals", openapi_extra=needs("see"))
def read_served(code: Code, use: Using) -> list[ServedOut]:
    """The open goals that count the work of a project, and what it adds to each."""
    return [
        ServedOut(
            goal=line_out(one.shown),
            done=one.part.done,
            total=one.part.total,
            adds=say_part(one.shown.goal.measure, one.part),
        )
        for one in use.read(on_projects.read_served, code)
    ]
