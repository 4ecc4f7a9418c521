"""Where spend stands by source, medium and channel: found as a touch's would be, with the platform's tags (R3, R5)."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np

from ..base.columns import Text
from ..base.tables import Table
from ..base.words import Slots, collapse, fold
from ..plan.costing_phase import Platform
from ..plan.reading_phase import Reading
from ..reading.asking import Arrival
from ..reading.channels import ChannelRules
from ..reading.legends import LegendBook
from ..reading.tags import FIELDS

PLATFORM_FIELDS = ("source", "medium", "channel")


def platform_columns(
    spend: Table, rules: ChannelRules, reading: Reading, platforms: Sequence[Platform]
) -> Mapping[str, Text]:
    """Source, medium and channel of every spend row whose platform is set, before renames.

    Parameters
    ----------
    spend : spend rows, those of further costs among them
    rules : channel rules
    reading : legends, dialects
    platforms : of the plan

    Returns
    -------
    (n,) text per name of `PLATFORM_FIELDS`; empty where the platform's setting does not say

    Notes
    -----
    The tags are the platform's source and medium and the row's campaign as it came; its other fields are empty. A
    platform without a medium says nothing of the channel, unless a legend does.
    """
    n = len(spend)
    found: dict[str, list[str]] = {name: [""] for name in PLATFORM_FIELDS}
    which = np.zeros(n, np.int64)
    book, slots = LegendBook(reading), Slots(reading.slot_pairs)
    names, days = spend.text("campaign"), spend.ints("day")
    platform = spend.text("platform")
    of_platform = platform.map(fold)
    for setting in platforms:
        if not setting.source.strip() and not setting.medium.strip():
            continue  # it is in the plan for other reasons, and says nothing of its tags
        want = fold(setting.name)
        mine = np.flatnonzero(of_platform.test(lambda v, want=want: v == want))  # type: ignore[misc]
        if not len(mine):
            continue
        codes, kind = np.unique(names.codes[mine], return_inverse=True)
        tags = [_said(setting, slots.clean(names.values[code]), slots) for code in codes.tolist()]
        fitting = book.fitting([{name: value for name, value in said.items() if value} for said in tags])
        legend = book.numbers_of(fitting, kind.reshape(-1), days[mine])
        keys, row = np.unique(names.codes[mine] * np.int64(len(book.legends)) + legend, return_inverse=True)
        which[mine] = len(found["source"]) + row
        for key in keys.tolist():
            code, number = divmod(key, len(book.legends))
            read = _read(_said(setting, slots.clean(names.values[code]), slots), number, book, rules)
            for name, value in zip(PLATFORM_FIELDS, read, strict=True):
                found[name].append(value)
    return {name: Text.of(values).take(which) if n else Text.blank(0) for name, values in found.items()}


def _said(setting: Platform, campaign: str, slots: Slots) -> dict[str, str]:
    """The tags of a platform's spend row."""
    own = {"source": slots.clean(setting.source), "medium": slots.clean(setting.medium), "campaign": campaign}
    return dict.fromkeys(FIELDS, "") | own


def _read(said: dict[str, str], legend: int, book: LegendBook, rules: ChannelRules) -> tuple[str, str, str]:
    roles = book.roles(said, legend, has_parameters=False)
    channel = roles.get("channel", "")
    if not channel and said["medium"]:
        channel = rules.classify(Arrival(tuple(said.values()), True, False)).name
    return roles.get("source", ""), roles.get("medium", ""), collapse(channel)
