"""Resources and absences that come and go as tables."""

from __future__ import annotations

from fastapi import Response

from ...services.resources import tables
from ..common.brought import BroughtOut, brought_out
from ..common.inputs import make_router
from ..common.tables import LARGEST_SHORT, TableFile, TableKind, read_upload, table_answer, writer_of
from ..common.use import Using, needs

router = make_router("resources")


@router.get("/resources.{form}", openapi_extra=needs("see_people"), response_class=Response)
def export_resources(form: TableKind, use: Using) -> Response:
    """The crews, roles, materials and fixed costs of the organisation, as a table."""
    body = writer_of(form)(tables.RESOURCE_HEADS, use.read(tables.resources_out, None))
    return table_answer(use, body, form, "resources")


@router.get("/projects/{code}/resources.{form}", openapi_extra=needs("see"), response_class=Response)
def export_own_resources(code: str, form: TableKind, use: Using) -> Response:
    """Those of a project."""
    body = writer_of(form)(tables.RESOURCE_HEADS, use.read(tables.resources_out, code))
    return table_answer(use, body, form, f"{code.upper()} resources")


@router.get("/absences.{form}", openapi_extra=needs("see_people"), response_class=Response)
def export_absences(form: TableKind, use: Using) -> Response:
    """When everybody is away, as a table; why is for managers."""
    body = writer_of(form)(tables.ABSENCE_HEADS, use.read(tables.absences_out))
    return table_answer(use, body, form, "absences")


@router.post("/resources/table", openapi_extra=needs("plan_people", file=LARGEST_SHORT))
def import_resources(file: TableFile, use: Using) -> BroughtOut:
    """Bring resources of the organisation in from a table, all rows or none."""
    return brought_out(use, use.write(tables.resources_in, None, read_upload(file, LARGEST_SHORT)))


@router.post("/projects/{code}/resources/table", openapi_extra=needs("edit", file=LARGEST_SHORT))
def import_own_resources(code: str, file: TableFile, use: Using) -> BroughtOut:
    """Bring resources of a project in."""
    return brought_out(use, use.write(tables.resources_in, code, read_upload(file, LARGEST_SHORT)))


@router.post("/absences/table", openapi_extra=needs("see_people", file=LARGEST_SHORT))
def import_absences(file: TableFile, use: Using) -> BroughtOut:
    """Bring absences in from a table: one's own, or as a manager anybody's."""
    return brought_out(use, use.write(tables.absences_in, read_upload(file, LARGEST_SHORT)))
