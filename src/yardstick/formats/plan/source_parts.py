"""Sources as written in settings.toml."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Annotated, Any, Literal

from pydantic import BeforeValidator, Field, PlainSerializer

from yardstick.core.base.schema import SCHEMA
from yardstick.core.base.words import fold
from yardstick.core.plan.gathering_phase import DATE_ORDERS, Join, KeptList, Replacement, Source, Split

from .part_fields import Currency, Day, Name, SettingsPart, Word, check_zone, described_field
from .section import GATHER, RecordPart, Section
from .what_changes import FIGURES, FILES, SHOWN

_WORDS = {"space": " ", "tab": "\t"}


def _sign(value: object) -> object:
    return _WORDS.get(value.strip().lower(), value.strip() or value) if isinstance(value, str) else value


def _word_of(value: str) -> str:
    return next((word for word, sign in _WORDS.items() if sign == value), value)


Sign = Annotated[str, BeforeValidator(_sign), PlainSerializer(_word_of, return_type=str)]
"""One character; a space and a tab are also written as words, which every door leaves as they are."""


def _pairs(value: Any) -> Any:
    """A table of TOML as a form has it: one record a name."""
    if not isinstance(value, list):
        return value
    out: dict[str, str] = {}
    for entry in value:
        if not isinstance(entry, Mapping) or set(entry) - {"column", "text"}:
            raise ValueError("write a column and what it is")
        name = str(entry.get("column") or "").strip()
        if not name or name in out:
            raise ValueError(f"column {name!r} appears twice: keep one" if name else "a column without a name")
        out[name] = str(entry.get("text") or "")
    return out


def _pair(text: str, example: str) -> dict[str, Any]:
    return {"pair": {"column": ["The column of the table.", "day"], "text": [text, example]}}


Pairs = Annotated[dict[str, str], BeforeValidator(_pairs)]
Table = Annotated[str, Field(json_schema_extra={"options": list(SCHEMA)})]
MOST_ABOVE = 1_000


class SplitPart(SettingsPart):
    """A column of the file that holds several."""

    column: Name = described_field("The column of the file.", "Source / medium")
    by: Annotated[str, Field(min_length=1)] = described_field("What stands between its parts.", " / ")
    into: Annotated[list[Word], Field(min_length=2, max_length=20)] = described_field(
        "Columns of the table for its parts in order; empty for a part that is not wanted.", "last_source"
    )


class JoinPart(SettingsPart):
    """Columns of the file that make one of the table together."""

    into: Name = described_field("The column of the table.", "occurred_at")
    columns: Annotated[list[Name], Field(min_length=1, max_length=20)] = described_field(
        "Columns of the file in order.", "Date"
    )
    by: str = described_field("What is put between them.", " ", default=" ")


class ReplacePart(SettingsPart):
    """A whole cell that stands for another."""

    column: Name = described_field("The column of the table.", "kind")
    old: Word = described_field("The cell as it came.", "pageview", alias="from", default="")
    new: Word = described_field("What it is.", "click", alias="to", default="")


class SourcePart(SettingsPart):
    """Where rows come from, and how its files are read. A file that has all its columns is read by it."""

    name: Name = described_field("What it is called.", "Quorrin report")
    table: Table = described_field("What its rows are.", "spend")
    kind: Word = described_field(
        "What it is: ads report, shop, customer records, or a word of your own.", "ads report", default=""
    )
    account: Word = described_field("The account it reports; rows that name none are of it.", "q-main", default="")
    time_zone: Word = described_field(
        "Zone of its days, and of times that carry no offset; empty for the workspace's.", "Asia/Tokyo", default=""
    )
    currency: Currency = described_field(
        "Of amounts that name no currency; empty for the home currency.", "NZD", default=""
    )
    dialect: Word = described_field("The dialect in which its links write slots.", "Quorrin", default="")
    click_mark: Word = described_field("Parameter of addresses that carries its click mark.", "qkid", default="")
    starts: Day | None = described_field(
        "First day it should bring something; empty for at once.", "2026-09-01", default=None
    )
    ends: Day | None = described_field(
        "Last day it brings something; empty for an ongoing source.", "2026-11-30", default=None
    )
    expected_days: Annotated[int, Field(ge=0, le=366)] = described_field(
        "How many days late its newest day may be.", "2", default=2
    )
    encoding: Word = described_field(
        "Of its files; empty for UTF-8 or what they say of themselves.", "windows-1252", default=""
    )
    delimiter: Annotated[Sign, Field(max_length=1)] = described_field(
        "What stands between cells; empty to find out.", ";", default=""
    )
    sheet: Word = described_field("The sheet of a workbook; empty for the first.", "Data", default="")
    skip_top: Annotated[int, Field(ge=0, le=MOST_ABOVE)] = described_field("Lines above the header.", "2", default=0)
    headed: bool = described_field("Its files name their columns.", "true", default=True)
    total: Word = described_field("Rows whose first cell begins like this are not rows.", "Total", default="")
    sums: Literal["", "leave out", "keep"] = described_field(
        "Rows that are the sum of others; empty leaves those out that are so for sure.", "leave out", default=""
    )
    date: Literal["year month day", "day month year", "month day year", "unix seconds", "unix milliseconds"] = (
        described_field("The order of days and times, with any separators.", "day month year", default=DATE_ORDERS[0])
    )
    decimal: Annotated[Sign, Field(min_length=1, max_length=1)] = described_field(
        "Sign before decimals.", ",", default="."
    )
    thousands: Annotated[Sign, Field(max_length=1)] = described_field("Sign between groups of digits.", ".", default="")
    nothing: list[Word] = described_field("Words for an empty cell.", "--", default=[])
    currency_signs: bool = described_field(
        "Amounts carry signs, which are dropped, or codes, which are read.", "true", default=False
    )
    signs: Annotated[dict[str, Currency], BeforeValidator(_pairs)] = described_field(
        "Sign beside an amount = its currency.",
        default={},
        json_schema_extra={"pair": {"column": ["The sign.", "$"], "text": ["Its currency.", "AUD"]}},
    )
    micros: bool = described_field("Costs are millionths of the currency.", "true", default=False)
    period: Literal["", "week", "month"] = described_field(
        "A row of spend is a week or a month and is spread by day.", "week", default=""
    )
    negative: Literal["", "refunds", "leave out"] = described_field(
        "What rows of conversions below 0 are; empty for rows as others.", "refunds", default=""
    )
    url_host: Word = described_field("Host put before addresses that are a path.", "www.lunnick.example", default="")
    columns: Pairs = described_field(
        "Column of the table = column of the file; an empty one leaves a column out.",
        default={},
        json_schema_extra=_pair("The column of the file; empty to leave it out.", "Datum"),
    )
    constant: Pairs = described_field(
        "Column of the table = text where the file has none.",
        default={},
        json_schema_extra=_pair("What always stands there.", "Quorrin"),
    )
    id: list[Name] = described_field(
        "Columns that together tell a row, where the file has no id.", "Order time", default=[]
    )
    split: list[SplitPart] = described_field("Columns of the file that hold several.", default=[])
    join: list[JoinPart] = described_field("Columns of the file that make one.", default=[])
    replace: list[ReplacePart] = described_field("Cells that stand for others.", default=[])
    answers: Pairs = described_field(
        "What was asked of its files = what was said.",
        default={},
        json_schema_extra={"pair": {"column": ["What was asked.", "sums"], "text": ["What was said.", "leave out"]}},
    )

    def plain(self) -> Source:
        """The source."""
        given = {name: getattr(self, name) for name in type(self).model_fields}
        lists = {
            "nothing": tuple(word for word in self.nothing if word),
            "columns": tuple((column_called(self.table, c), written.strip()) for c, written in self.columns.items()),
            "constant": tuple((column_called(self.table, c), t.strip()) for c, t in self.constant.items() if t.strip()),
            "id": tuple(self.id),
            "signs": tuple((sign, code) for sign, code in self.signs.items() if sign and code),
            "answers": tuple(self.answers.items()),
            "split": tuple(
                Split(s.column, s.by, tuple(column_called(self.table, i) for i in s.into)) for s in self.split
            ),
            "join": tuple(Join(column_called(self.table, j.into), tuple(j.columns), j.by) for j in self.join),
            "replace": tuple(Replacement(column_called(self.table, r.column), r.old, r.new) for r in self.replace),
        }
        return Source(**given | lists)


def record_of(part: SourcePart) -> dict[str, Any]:
    """A source as settings have it, without what is as usual."""
    return part.model_dump(mode="json", by_alias=True, exclude_defaults=True)


def column_called(table: str, called: str) -> str:
    """The name in here of a column as files call it."""
    return next((c.name for c in SCHEMA.get(table, ()) if c.called == called), called)


def _check_zones(parts: Sequence[SourcePart], _: Sequence[str]) -> None:
    for part in parts:
        if part.time_zone:
            check_zone(f"source {part.name!r}", part.time_zone)


SOURCE = Section(
    "source",
    SourcePart,
    plan_field="sources",
    title="Sources",
    one="source",
    purpose="How the files of each source are read.",
    columns=("name", "table"),
    place=GATHER,
    changes=FILES,
    except_for={"click_mark": FIGURES, **dict.fromkeys(("starts", "ends", "expected_days"), SHOWN)},
    check=_check_zones,
)


class RecordListPart(RecordPart):
    """A list of records under a name."""

    core = KeptList

    name: Name = described_field("What the list is called.", "Lost by source")
    asked: Word = described_field(
        "What it asks, as its address has it.", "by=latest_source&where=counts is word", default=""
    )


RECORD_LIST = Section(
    "record_list",
    RecordListPart,
    plan_field="record_lists",
    title="Lists of records",
    one="list",
    purpose="Leads, orders and deals filtered and grouped, to be opened again.",
    columns=("name", "asked"),
    place=GATHER,
    changes=SHOWN,
    once=(("the list", lambda part: [fold(part.name)]),),
)
