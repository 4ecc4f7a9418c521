"""Lists of records over HTTP."""

from __future__ import annotations

from dataclasses import replace
from datetime import date
from typing import Annotated, Literal

from fastapi import APIRouter, Depends, Query, Response
from pydantic import BaseModel

from yardstick.core.report.capture_agreement import CaptureAgreement
from yardstick.core.report.filters import read_filter
from yardstick.core.report.record_fields import RECORD_FIELDS
from yardstick.core.report.record_list import ListedRecord, RecordGroup, RecordQuestion, RecordSums
from yardstick.formats.results.sheets import Kind
from yardstick.stations.gather.record_lists import AskedRecords, agreements, ask_records, groups_table, rows_table
from yardstick.stations.weigh.record_tables import record_table

from .exports import table_of
from .schemas import PROBLEMS
from .state import OpenWorkspace

router = APIRouter(prefix="/records", tags=["records"], responses=PROBLEMS)
MOST_COLUMNS = 12
ALL_ROWS = 1_000_000


class RecordsOut(BaseModel):
    """AskedRecords: their sums, these by group, and those listed; money in minor units of the home currency.

    Of those that fit so many are `quarantined`. Only people who agreed to `purpose` are listed, `withheld` are of
    others; without a purpose everybody is. `elsewhere` fit and are on other days; `unlisted` are words without a
    meaning in the plan, of all records.
    """

    sums: RecordSums
    groups: list[RecordGroup]
    elsewhere: int
    rows: list[ListedRecord]
    quarantined: int
    purpose: str
    withheld: int
    unlisted: list[RecordGroup]
    fields: list[str]
    currency: str
    minor_digits: int
    time_zone: str
    fingerprint: str


EARLIER = {"new": "customer"}
"""Fields that were called otherwise: lists that were kept then still ask for them."""


def _question(
    by: Annotated[str, Query(max_length=100)] = "",
    where: Annotated[list[str] | None, Query(max_length=20)] = None,
    day_of: Literal["created", "won", "report"] = "created",
    first_day: Annotated[date | None, Query(alias="from")] = None,
    last_day: Annotated[date | None, Query(alias="to")] = None,
) -> RecordQuestion:
    fields = tuple(EARLIER.get(part.strip(), part.strip()) for part in by.split(",") if part.strip())
    filters = (read_filter(text) for text in where or ())
    renamed = tuple(replace(one, field=EARLIER.get(one.field, one.field)) for one in filters)
    return RecordQuestion(fields, renamed, day_of, first_day, last_day)


Question = Annotated[RecordQuestion, Depends(_question)]
Columns = Annotated[list[str] | None, Query(max_length=MOST_COLUMNS)]


@router.get("")
def records(
    opened: OpenWorkspace,
    question: Question,
    columns: Columns = None,
    first: Annotated[int, Query(ge=0)] = 0,
    limit: Annotated[int, Query(ge=0, le=1000)] = 0,
    every: bool = False,
) -> RecordsOut:
    """Leads, orders and deals, counted and grouped; they are listed only where a limit asks for some.

    With `every` nobody is withheld, and nothing but ids is told: for taking out or putting back all that fit.
    """
    shown = () if every else columns or ()
    return _out(ask_records(opened.weighing, question, shown, first, limit, every))


def _out(found: AskedRecords) -> RecordsOut:
    plan = found.result.plan
    return RecordsOut(
        sums=found.found.sums,
        groups=list(found.found.groups),
        elsewhere=found.found.elsewhere,
        rows=found.rows,
        quarantined=found.quarantined,
        purpose=found.purpose,
        withheld=found.withheld,
        unlisted=list(found.unlisted),
        fields=list(RECORD_FIELDS),
        currency=plan.money.home_currency,
        minor_digits=plan.money.minor_digits,
        time_zone=plan.reading.time_zone,
        fingerprint=found.result.fingerprint,
    )


@router.get("/agreement")
def agreement(opened: OpenWorkspace) -> list[CaptureAgreement]:
    """What forms captured against what visits say, by form and week."""
    return agreements(opened.weighing)


@router.get("/agreement.{kind}", response_class=Response)
def agreement_file(opened: OpenWorkspace, kind: Kind) -> Response:
    """The same as a file."""
    return table_of(opened, "captured-and-seen", record_table(CaptureAgreement, agreements(opened.weighing)), kind)


@router.get("/groups.{kind}", response_class=Response)
def groups_file(opened: OpenWorkspace, question: Question, kind: Kind) -> Response:
    """The groups of a list as a file, with what was asked."""
    found = ask_records(opened.weighing, question, (), 0, 0)
    table = groups_table(found, question.by).beside(_asked(found, question))
    return table_of(opened, "records-by-" + "-".join(question.by or ("nothing",)), table, kind)


@router.get("/rows.{kind}", response_class=Response)
def rows_file(opened: OpenWorkspace, question: Question, kind: Kind, columns: Columns = None) -> Response:
    """The records of a list as a file, all of them, with what was asked; people by the ids of their records alone."""
    found = ask_records(opened.weighing, question, columns or (), 0, ALL_ROWS)
    return table_of(opened, "records", rows_table(found, columns or ()).beside(_asked(found, question)), kind)


def _asked(found: AskedRecords, question: RecordQuestion) -> dict[str, str]:
    """What was asked, for every line of a file."""
    return {
        "currency": found.result.plan.money.home_currency,
        "days": question.day_of,
        "from": question.first_day.isoformat() if question.first_day else "",
        "to": question.last_day.isoformat() if question.last_day else "",
        "where": "; ".join(map(str, question.where)),
        "agreed_to": found.purpose,
        "fingerprint": found.result.fingerprint,
    }
