"""A person looked at: its identifiers with the row that joined each, its touches and records in the order of time."""

from __future__ import annotations

import numpy as np

from ..base.columns import Ints
from ..base.day_numbers import instant_text
from ..base.identifiers import IDENTIFIER_KINDS
from ..base.masking import masked_identifier, masked_name
from ..base.schema import ROW_ID, VISIT_KINDS
from ..trails.people import KINDS
from .person_rows import TABLES, PersonRows, joined_by, person_of, rows_of_person, written
from .person_seen import PersonIdentifier, PersonPage, PersonRow, RowOf
from .read_rows import ReadRows
from .record_page import why_apart
from .recorded import Apart
from .rows_of_test import also_of_test
from .trace_lists import touch_of
from .weigh import Result

MOST_ROWS = 500
MOST_IDENTIFIERS = 100


def find_row(read: ReadRows, table: str, id: str) -> int | None:
    """The row of a table with an id; None if no row that stands has it.

    Parameters
    ----------
    read : rows as read
    table : one of `TABLES`
    id : as it stands in the file, but for white space around it
    """
    found = np.flatnonzero(
        getattr(read.tables, table).text(ROW_ID[table]).test(lambda text: text.strip() == id.strip())
    )
    return int(found[0]) if len(found) else None


def person_page(result: Result, table: str, row: int) -> PersonPage:
    """Everything that is known of the person of a row.

    Parameters
    ----------
    result : a weighing
    table : one of `TABLES`
    row : of it, see `find_row`

    Notes
    -----
    Of very many rows all records are listed, and the visits nearest to the end; knots are of all of them.
    """
    read = result.prepared.read
    person = person_of(read, TABLES.index(table), row)
    rows = rows_of_person(read, person)
    by, knots = joined_by(rows)
    order = sorted(range(len(rows.identifiers)), key=lambda number: (by[number], number))[:MOST_IDENTIFIERS]
    place = {number: at for at, number in enumerate(order)}
    others = {(KINDS.index(kind), value): count for kind, value, count in read.known.people.shared}
    named = _named(read, rows)
    listed = _listed(rows)
    also, more_also = also_of_test(read, rows)
    begun = _touches(result, person, rows.row[listed[rows.group[listed] == 0]])
    return PersonPage(
        name=masked_name(read.tables.leads.text("name")[int(rows.row[named])]) if named is not None else "",
        named_by=None if named is None else row_of(read, rows, named),
        identifiers=tuple(
            PersonIdentifier(
                kind=IDENTIFIER_KINDS[rows.identifiers[number][0]],
                shown=masked_identifier(*rows.identifiers[number]),
                written=written(rows.identifiers[number]),
                by=row_of(read, rows, by[number]),
                rows=int((rows.carried == number).any(axis=1).sum()),
                shared_with=others.get(rows.identifiers[number], 0),
            )
            for number in order
        ),
        rows=tuple(_row(result, rows, at, place, knots.get(at, ()), begun) for at in listed.tolist()),
        also=tuple(_row(result, also, at, {}, (), {}) for at in range(len(also))),
        more_identifiers=len(rows.identifiers) - len(order),
        more_rows=len(rows) - len(listed),
        more_also=more_also,
    )


def _listed(rows: PersonRows) -> Ints:
    """Positions of the rows that are listed: records first, then the latest visits."""
    if len(rows) <= MOST_ROWS:
        return np.arange(len(rows))
    records, visits = np.flatnonzero(rows.group > 0)[-MOST_ROWS:], np.flatnonzero(rows.group == 0)
    room = MOST_ROWS - len(records)
    return np.sort(np.concatenate([records, visits[len(visits) - room :]]))


def _named(read: ReadRows, rows: PersonRows) -> int | None:
    """The latest lead of a person that says a name."""
    names = read.tables.leads.text("name")
    for at in np.flatnonzero(rows.group == TABLES.index("leads"))[::-1].tolist():
        if names[int(rows.row[at])].strip():
            return int(at)
    return None


def row_of(read: ReadRows, rows: PersonRows, at: int) -> RowOf:
    """One row of a person, as it is named on screen."""
    name, row = TABLES[int(rows.group[at])], int(rows.row[at])
    table = getattr(read.tables, name)
    instant = instant_text(int(table.ints("occurred_at")[row]))
    return RowOf(name, table.text(ROW_ID[name])[row].strip(), instant, table.file[row], int(table.line[row]))


def _touches(result: Result, person: int, visits: Ints) -> dict[int, int]:
    """Of some visits of a person those that begin a touch, and the number of that."""
    touches = result.prepared.touches
    if person >= len(touches.begins) - 2:
        return {}
    mine = np.arange(touches.begins[person], touches.begins[person + 1])
    mine = mine[np.isin(touches.visit[mine], visits)]
    return dict(zip(touches.visit[mine].tolist(), mine.tolist(), strict=True))


def _visit_apart(read: ReadRows, row: int) -> Apart | None:
    """Why a visit is in no figure: it is a test record by itself, or by a rule or by hand."""
    if not read.quarantine.visits[row]:
        return None
    return Apart.TEST if read.tables.visits.flags("is_test")[row] else Apart.QUARANTINED


def _row(
    result: Result, rows: PersonRows, at: int, place: dict[int, int], knot: tuple[int, ...], touches: dict[int, int]
) -> PersonRow:
    read = result.prepared.read
    one = row_of(read, rows, at)
    held = tuple(place[number] for number in rows.carried[at].tolist() if number in place)
    tied = tuple(place[number] for number in knot if number in place)
    row = int(rows.row[at])
    if one.table == "visits":
        what, word, value = VISIT_KINDS[int(read.tables.visits.ints("kind")[row])], "", 0
        apart = _visit_apart(read, row)
        touch = touches.get(row)
        seen = None if touch is None else touch_of(result, touch, True, 0.0, 0)
    else:
        number = row + (len(read.tables.leads) if one.table == "conversions" else 0)
        conversions = read.conversions
        what, word, value = conversions.goal[number], conversions.word[number], int(conversions.value[number])
        apart, _ = why_apart(result, number)
        seen = None
    return PersonRow(
        table=one.table,
        id=one.id,
        at=one.at,
        file=one.file,
        line=one.line,
        what=what,
        word=word,
        starts=seen is not None,
        campaign=seen.campaign if seen else "",
        source=seen.source if seen else "",
        medium=seen.medium if seen else "",
        channel=seen.channel if seen else "",
        value=value,
        apart=apart,
        identifiers=held,
        knot=tied,
    )
