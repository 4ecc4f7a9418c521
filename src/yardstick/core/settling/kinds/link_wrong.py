"""Placed links that are wrong, or whose arrivals carry other tags (R30)."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from ...links.placing import link_key
from ...reading.arrivals import reader_of
from ...reading.tags import FIELDS
from ..facts import Facts
from ..matter import FoundMatter, MatterKind
from ..parts import touches_part


def _find(facts: Facts) -> Iterator[FoundMatter]:
    if not facts.links:
        return
    arrivals, names = facts.prepared.arrivals, facts.plan.reading.names
    read = reader_of(facts.plan.reading)
    urls: dict[object, list[int]] = {}
    for number, reading in enumerate(arrivals.readings):
        if reading.tagged:
            urls.setdefault(link_key(reading, names), []).append(number)
    of_touch = arrivals.url[facts.prepared.touches.visit]
    found: dict[str, list[int]] = {}
    mender: dict[str, str] = {}
    for link in facts.links:
        own = link_key(read(link.url), names)
        keys = [own] if link.is_wrong else []
        for field, arrived in link.deviations:
            at = FIELDS.index(field)
            keys.append(((*own[0][:at], arrived, *own[0][at + 1 :]), own[1]))
        if keys:
            found.setdefault(link.url, []).extend(number for key in keys for number in urls.get(key, ()))
            mender.setdefault(link.url, link.mender)
    # A link that stands in two places is one.
    for url, mine in found.items():
        touches = touches_part(facts, np.flatnonzero(np.isin(of_touch, mine)))
        yield FoundMatter((url,), touches, whose=mender[url])


KIND = MatterKind(
    name="link_wrong",
    station="mark",
    mendings=("link",),
    rule="a placed link that the check-up calls wrong, or whose arrivals carry another tag",
    find=_find,
)
