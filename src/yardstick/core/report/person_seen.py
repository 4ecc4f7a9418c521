"""What the page of a person tells: by which rows it is one person, and all it did (R6).

Instants are ISO 8601 text in UTC.
"""

from __future__ import annotations

from dataclasses import dataclass

from .recorded import Apart


@dataclass(frozen=True)
class RowOf:
    """A row of a table: which it is, when it came, where it stands."""

    table: str
    id: str
    at: str
    file: str
    line: int


@dataclass(frozen=True)
class PersonIdentifier:
    """An identifier of a person.

    Attributes
    ----------
    kind : as settings call it
    shown : it, masked where it is an address or a number
    written : `kind:value`, as a separation names it
    by : the row that joined it to those of the person's first row
    rows : how many of the person's rows carry it
    shared_with : how many others it was seen with where that is too many, and it joins nobody; else 0
    """

    kind: str
    shown: str
    written: str
    by: RowOf
    rows: int
    shared_with: int


@dataclass(frozen=True)
class PersonRow:
    """A visit, lead, order or deal of a person.

    Attributes
    ----------
    what : goal of a record, else kind of the visit
    word : of a record
    starts : whether a visit begins a touch; one that does not prolongs the one before
    campaign, source, medium, channel : of a touch, as read
    value : minor units of the home currency, of a record
    apart : why it is in no figure; None where it counts
    identifiers : positions among those of the page
    knot : of these, those that this row tied together
    """

    table: str
    id: str
    at: str
    file: str
    line: int
    what: str
    word: str
    starts: bool
    campaign: str
    source: str
    medium: str
    channel: str
    value: int
    apart: Apart | None
    identifiers: tuple[int, ...]
    knot: tuple[int, ...]


@dataclass(frozen=True)
class PersonPage:
    """A person.

    Attributes
    ----------
    name : as a lead says it, masked; empty where none does
    named_by : the row that says it
    identifiers : in the order in which they came
    rows : in the order of time
    also : rows of the same identifiers that are not joined to these, since one or the other is a test record (R6, R9)
    more_identifiers, more_rows, more_also : how many more there are than are listed
    """

    name: str
    named_by: RowOf | None
    identifiers: tuple[PersonIdentifier, ...]
    rows: tuple[PersonRow, ...]
    also: tuple[PersonRow, ...]
    more_identifiers: int
    more_rows: int
    more_also: int
