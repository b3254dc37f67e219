"""What people and resources cost, and are charged at."""

from __future__ import annotations

from decimal import Decimal
from typing import Annotated

from pydantic import BaseModel, Field

from ...core.resources.rates import MOST_RATES, Rate, RateKind, Rates
from ...services.resources import rates
from ..common.inputs import Day, Id, make_router
from ..common.use import Using, needs

router = make_router("resources")


class RateModel(BaseModel):
    """An amount an hour, or a unit, in the currency of the organisation."""

    first: Day | None = Field(None, description="The day from which it holds; null: from the beginning")
    amount: Annotated[Decimal, Field(ge=0, max_digits=13, decimal_places=4, examples=["32.50"])]


class RatesOut(BaseModel):
    """The rates of one kind of one person or resource, the earliest first."""

    who: str
    kind: RateKind = Field(description="What an hour or unit costs, or is charged at")
    rates: list[RateModel]


class RatesIn(BaseModel):
    """All rates of one kind of one person or resource, in place of those that there are."""

    who: Id
    kind: RateKind = "cost"
    rates: Annotated[list[RateModel], Field(max_length=MOST_RATES)]

    def read(self) -> list[Rate]:
        """As services take them."""
        return [Rate(one.first, one.amount) for one in self.rates]


def _out(found: Rates) -> list[RatesOut]:
    return [
        RatesOut(who=who, kind=kind, rates=[RateModel(first=one.first, amount=one.amount) for one in each])
        for (who, kind), each in found.items()
    ]


@router.get("/rates", openapi_extra=needs("see_rates"))
def read_rates(use: Using) -> list[RatesOut]:
    """The rates of all people, and of the organisation's resources."""
    return _out(use.read(rates.read_rates, None))


@router.put("/rates", openapi_extra=needs("see_rates"), status_code=204)
def set_rates(body: RatesIn, use: Using) -> None:
    """Write the rates of a person, or of a resource of the organisation."""
    use.write(rates.set_rates, None, body.who, body.kind, body.read())


@router.get("/projects/{code}/rates", openapi_extra=needs("manage"))
def read_own_rates(code: str, use: Using) -> list[RatesOut]:
    """The rates of the resources that are the project's own."""
    return _out(use.read(rates.read_rates, code))


@router.put("/projects/{code}/rates", openapi_extra=needs("manage"), status_code=204)
def set_own_rates(code: str, body: RatesIn, use: Using) -> None:
    """Write the rates of a resource of the project."""
    use.write(rates.set_rates, code, body.who, body.kind, body.read())
