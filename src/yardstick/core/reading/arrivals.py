"""Arrivals: what every visit row says once its address and referrer are read (R1, R4, R5)."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from ..base.columns import Flags, Ints, Text
from ..base.identifiers import plain_id
from ..base.notes import Finding
from ..base.tables import Table
from ..base.words import Slots, fold, same_as
from ..plan.name_rules import NameRules
from ..plan.reading_phase import Reading
from .asking import conditions_of, watched_parameters
from .marks import Unmarked, without_marks
from .tags import ReadAddress, host_of, reader


@dataclass(frozen=True)
class Arrivals:
    """Visits as read, each distinct address and referrer once.

    Attributes
    ----------
    readings : one per distinct address
    url : (n,) int32, index into `readings`
    mark : (n,) text, click mark; the one in the address beats the column (R6)
    referrer_host : (n,) text
    signature : (n,) int64, one number per distinct folded tags and click mark; 0 where a visit has neither (R7)
    """

    readings: list[ReadAddress]
    url: Ints
    mark: Text
    referrer_host: Text
    signature: Ints


def read_arrivals(visits: Table, reading: Reading) -> Arrivals:
    """Read the addresses, click marks and referrers of all visits.

    Parameters
    ----------
    visits : the visits table; every address in it passes `tags.why_not_an_address`
    reading : click mark parameters and folding
    """
    slots, watched = Slots(reading.slot_pairs), watched_parameters(conditions_of(reading))
    read = reader_of(reading)
    address = visits.text("url")
    # A mark that a condition asks for stays where it is.
    marks = [name for name in map(fold, reading.click_marks) if name not in watched]
    kept = [*map(fold, (*reading.extra_values, *reading.tag_parameters, *reading.click_marks)), *watched]
    unmarked = without_marks(address.values, marks, kept, slots)
    readings = [read(url) for url in unmarked.rests]
    of_address = _marks(readings, unmarked)
    per_visit = of_address.take(address.codes) if len(visits) else Text.blank(0)
    column = visits.text("click_id").map(lambda v: plain_id(slots.clean(v)))
    mark = per_visit.where(per_visit.filled(), column)
    url = unmarked.rest[address.codes].astype(np.int64) if len(visits) else np.empty(0, np.int64)
    signature = _signatures(readings, url, mark, reading)
    return Arrivals(readings, url, mark, visits.text("referrer").map(host_of), signature)


def reader_of(reading: Reading) -> Callable[[str], ReadAddress]:
    """The one function that reads addresses in a workspace (R1, R4)."""
    return reader(
        reading.click_marks,
        reading.extra_values,
        Slots(reading.slot_pairs),
        reading.tag_parameters,
        watched_parameters(conditions_of(reading)),
    )


def _marks(readings: list[ReadAddress], unmarked: Unmarked) -> Text:
    """(addresses,) text: the mark that each address was read to carry."""
    marks = Text.of([r.mark for r in readings]).take(unmarked.rest)
    for word, real in unmarked.stands_for.items():
        stands = marks.test(lambda v, want=word: v == want)  # type: ignore[misc]
        marks = real.where(stands & real.filled(), marks)
    return marks


def _signatures(readings: list[ReadAddress], url: Ints, mark: Text, reading: Reading) -> Ints:
    same = same_as(reading.fold)
    seen: dict[object, int] = {}
    tags = np.zeros(max(1, len(readings)), np.int64)
    for i, r in enumerate(readings):
        if r.tagged:
            more = (*r.extras, *r.own_tags)
            key = (tuple(same(v) for v in r.tags), tuple((k, same(v)) for k, v in more))
            tags[i] = seen.setdefault(key, len(seen) + 1)
    marks = np.where(mark.filled(), mark.codes.astype(np.int64) + 1, 0)
    signatures: Ints = tags[url] * (len(mark.values) + 1) + marks
    return signatures


def stated_parameters(arrivals: Arrivals, reading: Reading) -> dict[str, tuple[Text, Flags]]:
    """What the visits' addresses say of every parameter that a condition asks for.

    Returns
    -------
    by folded name: (n,) text, and (n,) bool, visits whose address has it
    """
    out = {}
    for name in watched_parameters(conditions_of(reading)):
        said = [dict(r.stated).get(name) for r in arrivals.readings] or [None]
        there = np.array([value is not None for value in said], np.bool_)
        out[name] = (Text.of([value or "" for value in said]).take(arrivals.url), there[arrivals.url])
    return out


def name_findings(visits: Table, arrivals: Arrivals, counts: Flags, reading: Reading) -> list[Finding]:
    """Values that break the plan's rules for names, each distinct value once, where it first stands."""
    if not (reading.allowed or reading.namings or reading.value_case != "any" or reading.value_spaces != "any"):
        return []
    rules = NameRules(reading)
    rows = np.flatnonzero(counts)
    distinct, first = np.unique(arrivals.url[rows], return_index=True)
    out: dict[tuple[str, str, str], Finding] = {}
    order = np.argsort(first, kind="stable")
    for at, row in zip(distinct[order].tolist(), rows[first[order]].tolist(), strict=True):
        for b in rules.blemishes(arrivals.readings[at].values()):
            key = (b.code, b.field, b.value)
            if key not in out:
                where = (visits.file[row], int(visits.line[row]))
                name = visits.text("visit_id")[row]
                out[key] = Finding(b.code, "warning", "visits", name, b.field, b.value, None, "", *where)
    return list(out.values())


def reading_findings(visits: Table, arrivals: Arrivals, counts: Flags) -> list[Finding]:
    """What should be known about the addresses of visits that count: wrong case, repeated names, unfilled slots."""
    noted = np.array([bool(r.notes) for r in arrivals.readings] or [False], np.bool_)
    out = []
    for row in np.flatnonzero(noted[arrivals.url] & counts).tolist():
        where = (visits.file[row], int(visits.line[row]))
        name = visits.text("visit_id")[row]
        for code, field, value in arrivals.readings[arrivals.url[row]].notes:
            out.append(Finding(code, "warning", "visits", name, field, value, None, "", *where))
    return out
