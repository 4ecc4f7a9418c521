"""Slots that the platform never filled (R4, R30)."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from ...base.columns import Ints
from ...base.distinct import distinct_columns
from ...base.words import fold
from ...reading.legends import DEFAULT_ROLE
from ...reading.tags import EXTRA, FIELDS, UNFILLED
from ..facts import Facts
from ..matter import FoundMatter, MatterKind
from ..parts import by_number, spend_part, touches_part


def _find(facts: Facts) -> Iterator[FoundMatter]:
    arrivals, roles, touches = facts.prepared.arrivals, facts.prepared.roles, facts.prepared.touches
    of_url = [tuple(sorted({key for code, key, _ in one.notes if code == UNFILLED})) for one in arrivals.readings]
    noted = np.array([bool(keys) for keys in of_url] or [False], np.bool_)
    visit = touches.visit
    mine = np.flatnonzero(noted[arrivals.url[visit]])
    sources, shown = facts.label("source")
    names = facts.plan.reading.names
    # Touches of one address, legend and source are looked at once.
    keys = np.stack([arrivals.url[visit[mine]], roles.kind[visit[mine]], roles.legend[visit[mine]], sources[mine]])
    alike, which_of = distinct_columns(keys.astype(np.int64))
    found: dict[tuple[int, str], list[Ints]] = {}
    for at, touches_alike in by_number(which_of, np.arange(len(mine))):
        url, kind, number, source = alike[:, at].tolist()
        legend = facts.plan.reading.legends[number - 1] if number else None
        given = {fold(field): role for field, role in legend.roles} if legend else {}
        for key in of_url[url]:
            field = key.removeprefix("utm_")
            name = field if field in FIELDS else key
            role = given.get(name, given.get(key)) or DEFAULT_ROLE.get(name, EXTRA + name)
            # A legend that fills the role mends it.
            if not roles.distinct[kind].get(role, ""):
                found.setdefault((source, name), []).append(mine[touches_alike])
    for (number, name), some in sorted(found.items(), key=lambda one: one[0]):
        which = np.sort(np.concatenate(some))
        platforms = facts.platforms_by_source.get(names.same(shown[number]), []) if shown[number] else []
        days = np.unique(touches.day[which])
        spent = facts.spend_of(platforms) & np.isin(facts.spend_days, days) & (facts.costs != 0)
        spend = spend_part(facts, np.flatnonzero(spent), own=False)
        yield FoundMatter((shown[number], name), (*touches_part(facts, which), spend))


KIND = MatterKind(
    name="unfilled_slots",
    station="mark",
    mendings=("pattern", "legend"),
    rule="a value that the platform never filled in, and no legend fills",
    find=_find,
)
