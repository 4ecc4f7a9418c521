"""By which identifiers a workspace's people were joined (R32), as a screen shows it."""

from __future__ import annotations

from dataclasses import dataclass

from yardstick.core.base.identifiers import IDENTIFIER_KINDS
from yardstick.core.base.masking import masked_identifier
from yardstick.core.base.schema import ROW_ID
from yardstick.core.base.tables import Table
from yardstick.core.report.weigh import Result
from yardstick.core.settling.people_joined import JoinedBy, people_joined

from ..weigh.weigh_board import BoardQuestion, Weighing


@dataclass(frozen=True)
class PersonOfRow:
    """A person or an identifier, opened by a row.

    Attributes
    ----------
    words : what it is: nothing of a person, a masked identifier
    number : rows of a person; other identifiers beside one
    joins : whether the identifier joins its rows
    table, id : a row of it
    """

    words: str
    number: int
    joins: bool
    table: str
    id: str


@dataclass(frozen=True)
class JoinedPeople:
    """People by the kinds of identifiers that joined them, the largest persons, and identifiers with most others."""

    by_kinds: tuple[JoinedBy, ...]
    largest: tuple[PersonOfRow, ...]
    widest: tuple[PersonOfRow, ...]


def joined_people(weighing: Weighing) -> JoinedPeople:
    """See `core.settling.people_joined.people_joined`; identifiers of people are masked.

    Raises
    ------
    NothingYet
        If nothing was loaded.
    """
    result, _ = weighing.result(BoardQuestion())
    found = people_joined(result)
    return JoinedPeople(
        found.by_kinds,
        tuple(
            PersonOfRow(
                f"{one.identifiers} {'identifier' if one.identifiers == 1 else 'identifiers'}",
                one.rows,
                True,
                one.table,
                _id(result, one.table, one.row),
            )
            for one in found.largest
        ),
        tuple(
            PersonOfRow(
                f"{one.kind.replace('_', ' ')} {masked_identifier(IDENTIFIER_KINDS.index(one.kind), one.value)}",
                one.others,
                one.joins,
                one.table,
                _id(result, one.table, one.row),
            )
            for one in found.widest
        ),
    )


def _id(result: Result, table: str, row: int) -> str:
    rows: Table = getattr(result.prepared.tables, table)
    return rows.text(ROW_ID[table])[row].strip()
