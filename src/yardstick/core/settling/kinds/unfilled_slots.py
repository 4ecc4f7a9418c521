"""Slots that the platform never filled (R4, R30)."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from ...base.words import fold
from ...reading.legends import DEFAULT_ROLE
from ...reading.tags import EXTRA, FIELDS, UNFILLED
from ..facts import Facts
from ..matter import FoundMatter, MatterKind
from ..parts import spend_part, touches_part


def _find(facts: Facts) -> Iterator[FoundMatter]:
    arrivals, roles, touches = facts.prepared.arrivals, facts.prepared.roles, facts.prepared.touches
    of_url = [tuple(sorted({key for code, key, _ in one.notes if code == UNFILLED})) for one in arrivals.readings]
    noted = np.array([bool(keys) for keys in of_url] or [False], np.bool_)
    visit = touches.visit
    mine = np.flatnonzero(noted[arrivals.url[visit]])
    sources, shown = facts.label("source")
    names = facts.plan.reading.names
    found: dict[tuple[int, str], list[int]] = {}
    for touch in mine.tolist():
        row = int(visit[touch])
        legend = facts.plan.reading.legends[roles.legend[row] - 1] if roles.legend[row] else None
        read = roles.distinct[int(roles.kind[row])]
        given = {fold(field): role for field, role in legend.roles} if legend else {}
        for key in of_url[int(arrivals.url[row])]:
            field = key.removeprefix("utm_")
            name = field if field in FIELDS else key
            role = given.get(name, given.get(key)) or DEFAULT_ROLE.get(name, EXTRA + name)
            # A legend that fills the role mends it.
            if not read.get(role, ""):
                found.setdefault((int(sources[touch]), name), []).append(touch)
    for (number, name), some in sorted(found.items()):
        which = np.array(some, np.int64)
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
