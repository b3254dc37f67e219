"""Rates, budgets and expenses that come and go as tables."""

from __future__ import annotations

from fastapi import Response

from ...services.cost import tables
from ..common.brought import BroughtOut, brought_out
from ..common.inputs import make_router
from ..common.tables import LARGEST_SHORT, TableFile, TableKind, read_upload, table_answer, writer_of
from ..common.use import Using, needs

router = make_router("cost")


@router.get("/rates.{form}", openapi_extra=needs("see_rates"), response_class=Response)
def export_rates(form: TableKind, use: Using) -> Response:
    """The rates of people and of the organisation’s resources, as a table."""
    return table_answer(use, writer_of(form)(tables.RATE_HEADS, use.read(tables.rates_out, None)), form, "rates")


@router.post("/rates/table", openapi_extra=needs("see_rates", file=LARGEST_SHORT))
def import_rates(file: TableFile, use: Using) -> BroughtOut:
    """Bring rates in from a table, all rows or none."""
    return brought_out(use, use.write(tables.rates_in, None, read_upload(file, LARGEST_SHORT)))


@router.get("/projects/{code}/rates.{form}", openapi_extra=needs("manage"), response_class=Response)
def export_own_rates(code: str, form: TableKind, use: Using) -> Response:
    """The rates of a project’s own resources."""
    body = writer_of(form)(tables.RATE_HEADS, use.read(tables.rates_out, code))
    return table_answer(use, body, form, f"{code.upper()} rates")


@router.post("/projects/{code}/rates/table", openapi_extra=needs("manage", file=LARGEST_SHORT))
def import_own_rates(code: str, file: TableFile, use: Using) -> BroughtOut:
    """Bring rates of a project’s own resources in."""
    return brought_out(use, use.write(tables.rates_in, code, read_upload(file, LARGEST_SHORT)))


@router.get("/projects/{code}/budgets.{form}", openapi_extra=needs("see_costs"), response_class=Response)
def export_budgets(code: str, form: TableKind, use: Using) -> Response:
    """The budgets of a project and its deliverables."""
    body = writer_of(form)(tables.BUDGET_HEADS, use.read(tables.budgets_out, code))
    return table_answer(use, body, form, f"{code.upper()} budgets")


@router.post("/projects/{code}/budgets/table", openapi_extra=needs("manage", file=LARGEST_SHORT))
def import_budgets(code: str, file: TableFile, use: Using) -> BroughtOut:
    """Bring budgets in from a table, all rows or none."""
    return brought_out(use, use.write(tables.budgets_in, code, read_upload(file, LARGEST_SHORT)))


@router.get("/projects/{code}/expenses.{form}", openapi_extra=needs("see_costs"), response_class=Response)
def export_expenses(code: str, form: TableKind, use: Using) -> Response:
    """What was used and spent in a project."""
    body = writer_of(form)(tables.EXPENSE_HEADS, use.read(tables.expenses_out, code))
    return table_answer(use, body, form, f"{code.upper()} expenses")


@router.post("/projects/{code}/expenses/table", openapi_extra=needs("edit", file=LARGEST_SHORT))
def import_expenses(code: str, file: TableFile, use: Using) -> BroughtOut:
    """Bring what was used and spent in from a table, all rows or none."""
    return brought_out(use, use.write(tables.expenses_in, code, read_upload(file, LARGEST_SHORT)))
