"""What the rules have to say about rows: findings, and rows they cannot accept."""

from __future__ import annotations

from dataclasses import dataclass, field


@dataclass(frozen=True)
class Finding:
    """Something about a row that a person should know; the row still counts.

    Attributes
    ----------
    code : what it is, one word of a closed list (see docs/rules.md)
    level : "error", "warning" or "note"
    table, id, field, value : where it stands
    amount : minor units of `currency` at stake, None where no amount can be named
    """

    code: str
    level: str
    table: str
    id: str = ""
    field: str = ""
    value: str = ""
    amount: int | None = None
    currency: str = ""
    file: str = ""
    line: int = 0


@dataclass(frozen=True)
class Rejected:
    """A row, or a cell of it, that cannot be accepted, with the reason and what to do. `digest`: R27."""

    table: str
    file: str
    line: int
    column: str
    value: str
    reason: str
    digest: str = field(default="", compare=False, repr=False)
