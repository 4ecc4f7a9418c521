"""A trial: the report on a plan with changes that are not kept, beside the report on the plan as it stands (R33)."""

from __future__ import annotations

from collections.abc import Callable, Collection, Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction

from ..report.breakdown import NAMED, NO_TOUCH_SPEND, Breakdown, is_of_touches
from ..report.figures import NOTHING, Sums
from ..report.judged import Judged
from ..report.person_page import row_of
from ..report.person_rows import chain_between
from ..report.person_seen import RowOf
from ..report.report import BreakdownPlace, Row
from ..report.summary import tie_line
from ..report.verdicts import VerdictCode
from ..report.weigh import Result

Place = tuple[str, tuple[str, ...]]
"""A row of a report: its bucket, and its values as they are shown."""
Amount = Callable[[Sums], Fraction | int]


@dataclass(frozen=True)
class MovedRow:
    """A row that has other figures afterwards, under whichever yardstick.

    Attributes
    ----------
    place, place_after : the row before and after; None where it is not there
    before, after : by yardstick, of those that both plans have
    """

    place: Place | None
    place_after: Place | None
    before: Mapping[str, Row]
    after: Mapping[str, Row]

    @property
    def shown(self) -> Place:
        """The row as it is called afterwards, or before where it is gone."""
        place = self.place_after or self.place
        assert place is not None
        return place

    def moves_under(self, yardstick: str) -> bool:
        """Whether it has other figures under one yardstick."""
        return not _same(self.before.get(yardstick), self.after.get(yardstick))

    def moved(self, yardstick: str, of: Amount) -> Fraction | int:
        """How much more a sum is afterwards, under one yardstick."""
        before, after = (sides.get(yardstick) for sides in (self.before, self.after))
        return of(after.sums if after else NOTHING) - of(before.sums if before else NOTHING)


@dataclass(frozen=True)
class StillOne:
    """Two identifiers that are separated and still one person: the rows that tie them, from the first to the second."""

    first: str
    second: str
    rows: tuple[RowOf, ...]


@dataclass(frozen=True)
class Trial:
    """What moves.

    Attributes
    ----------
    by : what the rows stand for
    yardstick : the one whose sums say how much moves
    rows : those with other figures, what moves most first
    renamed : rows that are called otherwise: before, after
    value, spend : minor units that move from row to row, or come or go: the larger of what all rows gain and lose
    leads, conversions : likewise
    one_currency : whether both are in one home currency; without, amounts have no difference and are 0
    yardsticks_gone, yardsticks_come : names of those that one of the plans lacks
    ties_moved : whether a part of the tie line is another
    still_one : identifiers that the changes separate and that other rows keep one person
    records : how many more records count afterwards, less than 0 where fewer do, whatever the range
    quarantined : how many more visits and records are quarantined
    """

    by: Breakdown
    yardstick: str
    rows: list[MovedRow]
    renamed: list[tuple[Place, Place]]
    value: int
    spend: int
    leads: Fraction
    conversions: Fraction
    one_currency: bool
    yardsticks_gone: tuple[str, ...]
    yardsticks_come: tuple[str, ...]
    ties_moved: bool
    still_one: tuple[StillOne, ...]
    records: int
    quarantined: int

    @property
    def amounts(self) -> bool:
        """Whether anything moves from row to row, or comes or goes, under the yardstick that says how much."""
        return any((self.value, self.spend, self.leads, self.conversions)) or not self.one_currency

    @property
    def moves(self) -> bool:
        """Whether any figure is another, or something is to be known before it is kept."""
        others = bool(self.yardsticks_gone or self.yardsticks_come)
        return bool(self.rows) or others or self.ties_moved or not self.one_currency or bool(self.still_one)


def compare(before: Result, after: Result, yardstick: str) -> Trial:
    """What moves between two reports that were asked the same.

    Parameters
    ----------
    before, after : the report on the plan as it stands, and on the plan with changes
    yardstick : the one whose sums say how much moves; where either plan lacks it, the first that both have

    Returns
    -------
    Trial

    Notes
    -----
    A row stands for its values, whatever these are called. One that goes and one that comes with the same figures under
    `yardstick` are one row, too, as after a rename of a value; of several with the same figures each is taken once.
    Under another yardstick it may differ by a minor unit, as what is left over in rounding goes by names.
    """
    names = [name for name in before.ledger.yardsticks if name in after.ledger.yardsticks]
    chosen = yardstick if yardstick in names else next(iter(names), "")
    money = [(r.plan.money.home_currency, r.plan.money.minor_digits) for r in (before, after)]
    old, new = (_rows_of(result, names) for result in (before, after))
    called = _followed(old, new, chosen)
    rows = []
    for thing, (place, sides) in old.items():
        place_after, sides_after = new.get(called.get(thing, thing), (None, {}))
        if not all(_same(sides.get(name), sides_after.get(name)) for name in names):
            rows.append(MovedRow(place, place_after, sides, sides_after))
    known = {called.get(thing, thing) for thing in old}
    rows += [MovedRow(None, place, {}, sides) for thing, (place, sides) in new.items() if thing not in known]
    pairs = [(place, new[now][0]) for thing, (place, _) in old.items() if (now := called.get(thing, thing)) in new]
    one_currency = money[0] == money[1]

    def flow(of: Amount) -> Fraction:
        moved = [Fraction(row.moved(chosen, of)) for row in rows]
        return max(sum((m for m in moved if m > 0), Fraction(0)), -sum((m for m in moved if m < 0), Fraction(0)))

    def size(row: MovedRow) -> tuple[Fraction, ...]:
        amounts: Sequence[Amount] = (_value, _spend, _conversions, _leads)
        return tuple(-abs(Fraction(row.moved(chosen, of))) for of in amounts)

    return Trial(
        by=before.by,
        yardstick=chosen,
        rows=sorted(rows, key=lambda row: (*size(row), row.shown)),
        renamed=[(place, place_after) for place, place_after in pairs if place != place_after],
        value=int(flow(_value)) if one_currency else 0,
        spend=int(flow(_spend)) if one_currency else 0,
        leads=flow(_leads),
        conversions=flow(_conversions),
        one_currency=one_currency,
        yardsticks_gone=tuple(name for name in before.ledger.yardsticks if name not in names),
        yardsticks_come=tuple(name for name in after.ledger.yardsticks if name not in names),
        ties_moved=_ties(before, names) != _ties(after, names),
        still_one=_still_one(before, after),
        records=int(after.counted.flags.sum()) - int(before.counted.flags.sum()),
        quarantined=_quarantined(after) - _quarantined(before),
    )


def _quarantined(result: Result) -> int:
    """Visits and records that are test records (R9)."""
    tests = result.prepared.quarantine
    return int(tests.visits.sum()) + int(tests.leads.sum()) + int(tests.conversions.sum())


def _still_one(before: Result, after: Result) -> tuple[StillOne, ...]:
    """What the changes separate and other rows keep together (R33)."""
    read, out = after.prepared.read, []
    for one in after.plan.reading.separations:
        if one not in before.plan.reading.separations:
            chain = chain_between(read, one.first, one.second)
            if chain is not None:
                rows, positions = chain
                out.append(StillOne(one.first, one.second, tuple(row_of(read, rows, at) for at in positions)))
    return tuple(out)


def _value(sums: Sums) -> int:
    return sums.value


def _spend(sums: Sums) -> int:
    return sums.spend or 0


def _leads(sums: Sums) -> Fraction:
    return sums.leads


def _conversions(sums: Sums) -> Fraction:
    return sums.conversions


Rows = Mapping[Place, tuple[Place, Mapping[str, Row]]]
"""By what a row stands for, whatever it is called: how it is shown, and its figures by yardstick."""


def _rows_of(result: Result, names: Sequence[str]) -> Rows:
    own = {(place.bucket, place.shown) for place in result.places}
    things = {(place.bucket, place.shown): (place.bucket, _keys(result, place)) for place in result.places}
    taken = set(things.values())
    out: dict[Place, tuple[Place, dict[str, Row]]] = {}
    for row in result.rows:
        if row.yardstick in names:
            place = (row.bucket, row.by)
            thing = _row_of(things.get(place, place), taken)
            out.setdefault(thing, (_row_of(place, own), {}))[1][row.yardstick] = row
    return out


def _same(one: Row | None, other: Row | None) -> bool:
    """Whether two rows have the same figures: ratios are made of what is compared here."""
    if one is None or other is None:
        return one is other
    return one.sums == other.sums and (one.margin, one.minor_digits) == (other.margin, other.minor_digits)


def _keys(result: Result, place: BreakdownPlace) -> tuple[str, ...]:
    """The values of a place as they compare: another plain name, or a spelling used more often, is no other value."""
    out = []
    for field, number, shown in zip(result.by, place.values, place.shown, strict=True):
        keys = result.prepared.touches.fields[field].keys if is_of_touches(field) else []
        out.append(keys[number] if 0 < number < len(keys) else shown)
    return tuple(out)


def _row_of(place: Place, own: Collection[Place]) -> Place:
    """The row of a place: a campaign whose spend stands without touches is still that campaign.

    Parameters
    ----------
    own : the places of its report
    """
    bucket, by = place
    return (NAMED, by) if bucket == NO_TOUCH_SPEND and (NAMED, by) not in own else place


def _followed(before: Rows, after: Rows, chosen: str) -> dict[Place, Place]:
    """What rows that go stand for afterwards, where one comes with the same figures."""
    out: dict[Place, Place] = {}
    left = [thing for thing in after if thing not in before]
    for thing, (_, sides) in before.items():
        if thing in after:
            continue
        same = (t for t in left if t[0] == thing[0] and _same(after[t][1].get(chosen), sides.get(chosen)))
        new = next(same, None)
        if new is not None:
            left.remove(new)
            out[thing] = new
    return out


def _ties(result: Result, names: Sequence[str]) -> tuple[object, ...]:
    """The tie line, under some yardsticks."""
    ties = tie_line(result)
    of_yardsticks = [
        [part[name] for name in names] for part in (ties.named, ties.untagged, ties.no_value, ties.outside)
    ]
    quarantined = (ties.quarantined_records, ties.quarantined_value)
    spend = (ties.invoiced, ties.matched, ties.unmatched)
    return (ties.booked, ties.no_trail, of_yardsticks, spend, quarantined, ties.captured_first, ties.captured_last)


@dataclass(frozen=True)
class Turn:
    """A verdict that is another one afterwards; None where there is none.

    Attributes
    ----------
    place : the row, as it is called afterwards, or before where it is gone
    kind : of goal
    """

    place: Place
    kind: str
    before: VerdictCode | None
    after: VerdictCode | None


def turned(trial: Trial, before: tuple[Result, Judged], after: tuple[Result, Judged]) -> list[Turn]:
    """The verdicts that turn (R25), in the order of their rows.

    Parameters
    ----------
    trial : of the same two reports; a row that is called otherwise keeps its verdict
    before, after : the reports and what is concluded from them
    """
    called = dict(trial.renamed)
    codes: list[dict[tuple[Place, str], VerdictCode]] = [{}, {}]
    for side, (result, judged) in enumerate((before, after)):
        own = {(place.bucket, place.shown) for place in result.places}
        for verdict in judged.verdicts:
            place = _row_of((result.places[verdict.place].bucket, verdict.shown), own)
            codes[side][called.get(place, place) if side == 0 else place, verdict.kind] = verdict.code
    keys = [*codes[1], *(key for key in codes[0] if key not in codes[1])]
    return [
        Turn(*key, codes[0].get(key), codes[1].get(key))
        for key in sorted(keys)
        if codes[0].get(key) != codes[1].get(key)
    ]
