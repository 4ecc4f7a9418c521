"""What a matter is (R30): something open, with the rows it is made of and what is at stake."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass

from ..base.columns import Ints
from ..base.tables import Table
from ..plan.gathering_phase import SaidOfMatter
from .facts import Facts

OBJECT_PARTS = " / "
"""Between the parts of an object."""


@dataclass(frozen=True)
class RowsOf:
    """Rows of one table that a matter is made of.

    Attributes
    ----------
    table : the table itself
    rows : (n,) int64, its rows
    days : (n,) int64, the day each stands on in reports; `NO_DAY` where it stands on none, and so in every range
    values : (n,) int64, minor units of the home currency of value that each puts at stake; None where rows have none
    spends : (n,) int64, likewise of spend
    beside : (n,) int64, rows of the same table to be seen beside each, -1 for none; None where there are none
    own : whether they are what the matter is of; others only carry an amount
    is_cut : whether values are of the range already, as credit is
    """

    table: Table
    rows: Ints
    days: Ints
    values: Ints | None = None
    spends: Ints | None = None
    beside: Ints | None = None
    own: bool = True
    is_cut: bool = False


@dataclass(frozen=True)
class AmountsOf:
    """Amounts that no row carries: (n,) int64 days, and minor units of spend on each."""

    days: Ints
    spends: Ints


@dataclass(frozen=True)
class FoundMatter:
    """Something open over all days, before any range cuts its stake.

    Attributes
    ----------
    object : what it is about
    parts : its rows
    amounts : what is at stake beside them
    first_day : where it is not that of its first row; None = it is
    said : what the object alone does not say, such as an amount in another currency
    whose : who sees to it, where that is known better than by its campaign
    """

    object: tuple[str, ...]
    parts: tuple[RowsOf, ...] = ()
    amounts: AmountsOf | None = None
    first_day: int | None = None
    said: str = ""
    whose: str = ""


@dataclass(frozen=True)
class MatterKind:
    """A kind of matter: everything that is declared of it.

    Attributes
    ----------
    name : its word in files
    station : where it is mended
    mendings : words for what mends it
    rule : when it is found, in one sentence, `{}` where its threshold stands
    find : all of its matters over all days
    """

    name: str
    station: str
    mendings: tuple[str, ...]
    rule: str
    find: Callable[[Facts], Iterable[FoundMatter]]

    def rule_for(self, facts: Facts) -> str:
        """When it is found, in one sentence, with the threshold that holds."""
        return self.rule.format(f"{facts.threshold(self.name):f}") if "{}" in self.rule else self.rule


@dataclass(frozen=True)
class Matter:
    """A matter with its stake in the range.

    Attributes
    ----------
    kind : what of
    object : what it is about
    first_day : day number of its first row, whatever the range; None where its rows stand on no day
    rows : in the range
    spend, value : in the range, minor units of the home currency; None where the kind puts none at stake
    rule : when it is found, in one sentence
    said : what the object alone does not say
    parts : its rows over all days
    all_rows : how many rows it has over all days
    kept : what was said of it; None = nothing
    is_accepted : whether that lets it stay
    whose : who sees to it: whom somebody said, else the owner of its campaign
    """

    kind: MatterKind
    object: tuple[str, ...]
    first_day: int | None
    rows: int
    spend: int | None
    value: int | None
    rule: str
    said: str
    parts: tuple[RowsOf, ...]
    all_rows: int
    kept: SaidOfMatter | None
    is_accepted: bool
    whose: str

    @property
    def called(self) -> str:
        """What it is about, as files and the plan have it."""
        return OBJECT_PARTS.join(self.object)
