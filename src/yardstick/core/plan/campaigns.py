"""Names: which campaign, source, group... a text means on a day. Renames, codes, plain names and ids of the level tree.

Raw values stay; only what they count as and what is shown changes.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from itertools import pairwise

from ..base.day_numbers import day_number
from ..base.errors import SettingsError
from ..base.words import collapse, same_as
from ..base.words import fold as fold_text
from .campaign_records import CampaignNames, Level, Rename

ALWAYS = -(10**9)
EVER = 10**9


class Names:
    """The names of a plan.

    Parameters
    ----------
    fold : whether spellings that differ in case and spaces are one value (R2)
    renames, campaigns, levels : of the plan
    """

    def __init__(
        self, fold: bool, renames: Sequence[Rename], campaigns: Sequence[CampaignNames], levels: Sequence[Level]
    ) -> None:
        self.same = same_as(fold)
        # Names of channels are words of the settings, which always fold (R2).
        self._same_of = {"channel": fold_text}
        self._renames: dict[str, list[Rename]] = {}
        for rename in renames:
            self._renames.setdefault(rename.field, []).append(rename)
        for level in levels:
            if level.id:
                self._renames.setdefault(level.level, []).append(Rename(level.level, level.id, level.name))
        for campaign in campaigns:
            for known in (campaign.code, campaign.plain_name):
                if known:
                    self._renames.setdefault("campaign", []).append(Rename("campaign", known, campaign.name))
        self._holding: dict[tuple[str, int], dict[str, str]] = {}

    def meant(self, field: str, text: str, day: int | None = None) -> str:
        """What a text counts as in a field on a day, in the form in which values are compared.

        Parameters
        ----------
        field : campaign, source, medium, channel, group...
        text : as it came
        day : days since 1970; without it all renames hold
        """
        return self._same(field)(self._follow(field, text, self._holds(field, EVER if day is None else day)))

    def renames_any(self, field: str) -> bool:
        """Whether any value of a field is renamed."""
        return field in self._renames

    def spans(self, field: str) -> list[tuple[int, int]]:
        """Stretches of days (first, day after the last) in which one set of renames of a field holds."""
        edges = sorted({ALWAYS, EVER, *(_start(r) for r in self._renames.get(field, ()))})
        return list(pairwise(edges))

    def written(self, field: str, text: str, day: int) -> str:
        """The name a text goes by on a day, as it is written there.

        Of several renames of one value the latest that has begun holds, and new names are looked up again.
        """
        return self._follow(field, text, self._holds(field, day))

    def check(self) -> None:
        """See that no value is renamed in a circle, or twice from one day on.

        Raises
        ------
        SettingsError
            If one is.
        """
        for field, renames in sorted(self._renames.items()):
            seen: dict[tuple[str, object], str] = {}
            onward: dict[str, set[str]] = {}
            for rename in renames:
                old, new = self._same(field)(rename.old), self._same(field)(rename.new)
                if seen.setdefault((old, rename.since), new) != new:
                    raise SettingsError(f"{field} {rename.old!r} is given two names from one day on: keep one of them")
                if old != new:
                    onward.setdefault(old, set()).add(new)
            for start in onward:
                reached, ahead = set[str](), {start}
                while ahead:
                    ahead = {n for old in ahead for n in onward.get(old, ())} - reached
                    reached |= ahead
                if start in reached:
                    raise SettingsError(f"{field} {start!r} is renamed in a circle: remove one of the renames")

    def _holds(self, field: str, day: int) -> dict[str, str]:
        """Old value -> new one, as it holds on a day."""
        begun = [r for r in self._renames.get(field, ()) if _start(r) <= day]
        latest = max((_start(r) for r in begun), default=ALWAYS)
        if (field, latest) not in self._holding:
            by_start = sorted(begun, key=_start)
            self._holding[field, latest] = {self._same(field)(r.old): collapse(r.new) for r in by_start}
        return self._holding[field, latest]

    def _same(self, field: str) -> Callable[[str], str]:
        return self._same_of.get(field, self.same)

    def _follow(self, field: str, value: str, holds: dict[str, str]) -> str:
        same = self._same(field)
        passed: set[str] = set()
        key = same(value)
        while key in holds and key not in passed:
            passed.add(key)
            value = holds[key]
            key = same(value)
        return value


def _start(rename: Rename) -> int:
    return ALWAYS if rename.since is None else day_number(rename.since)
