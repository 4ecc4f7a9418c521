"""Channel rules (R5): an ordered list, first match wins, and every visit can be asked why."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from ..base.patience import go_on
from ..base.words import fold, same_as
from ..plan.reading_phase import Reading
from .asking import Arrival, test_of
from .hosts import host_matcher, outside_of

BY_MEDIUM = {
    "Paid search": ("paid-search", "paidsearch", "paid search"),
    "Paid social": ("paid-social", "paidsocial", "paid_social", "paid social"),
    "Affiliate": ("affiliate", "partner"),
    "Display": ("display", "banner", "cpm"),
    "Video": ("video",),
    "Email": ("email", "e-mail", "newsletter"),
    "Text message": ("sms", "text", "text-message"),
    "Offline": ("print", "qr", "poster", "offline"),
    "Social": ("social",),
    "Organic search": ("organic",),
    "Referral": ("referral",),
}
"""The built-in list: channel -> folded mediums."""
_MEDIUM_CHANNEL = {medium: channel for channel, mediums in BY_MEDIUM.items() for medium in mediums}

DIRECT = "Direct"
ANY_OTHER_TAG = "built-in rule: any other tag"
"""Why an arrival is *Tagged, no rule*."""
PAID = {"cpc": "Paid search", "ppc": "Paid search", "paid": "Paid, kind unknown"}
"""Mediums that say paid and not what kind, and their channel where no platform says it (R5)."""
BY_KIND = {"search": "Paid search", "social": "Paid social", "panels": "Display", "video": "Video"}
"""The channel of such arrivals by the kind of the platform whose source they carry."""


@dataclass(frozen=True)
class Channel:
    """The channel of an arrival, the rule that said so, and whether it is Direct in the sense of R5."""

    name: str
    why: str
    direct: bool


class ChannelRules:
    """The workspace's own rules, then those it shares with other workspaces, then the built-in list (R5).

    Parameters
    ----------
    reading : own and shared rules, known sites, own and pass-through hosts, folding

    Raises
    ------
    SettingsError
        If a rule has an unknown field or operator, or an expression that cannot be read.
    """

    def __init__(self, reading: Reading) -> None:
        self._fold = reading.fold
        self._written = [
            (
                rule,
                f"{whose} rule {number}: {rule.name}",
                [test_of(f"{said}channel rule {rule.name!r}", c, reading.fold) for c in rule.when],
            )
            for whose, said, rules in (("own", "", reading.channels), ("shared", "shared ", reading.shared_channels))
            for number, rule in enumerate(rules, 1)
        ]
        same = same_as(reading.fold)
        self._platforms = [(same(s), fold(m), kind) for s, m, kind in reading.platform_kinds if same(s)]
        self.outside = outside_of(reading)
        self._search = host_matcher(reading.search_sites)
        self._social = host_matcher(reading.social_sites)

    def classify_all(self, arrivals: Iterable[Arrival]) -> dict[Arrival, Channel]:
        """The channel of each distinct arrival, with the rule that gave it."""
        distinct = list(dict.fromkeys(arrivals))
        learning = [test for _, _, tests in self._written for test in tests if test.learns]
        if learning:
            seen = [one.seen(self.outside(one.referrer_host, one.landing_host)) for one in distinct]
            for test in learning:
                test.learn(seen)
        out: dict[Arrival, Channel] = {}
        for arrival in distinct:
            go_on()
            out[arrival] = self.classify(arrival)
        return out

    def classify(self, arrival: Arrival) -> Channel:
        """The channel of an arrival; see `classify_all`."""
        referrer = self.outside(arrival.referrer_host, arrival.landing_host)
        direct = not (arrival.tagged or arrival.marked or referrer)
        seen = arrival.seen(referrer)
        for rule, why, conditions in self._written:
            if all(holds(seen) for holds in conditions):
                return Channel(rule.name, why, direct)
        name, why = self._built_in(arrival, referrer)
        return Channel(name, why, direct)

    def _of_platform(self, source: str, medium: str) -> tuple[str, str]:
        """Channel and reason of a medium that says paid: by the platform whose source it is, if that says its kind."""
        same = same_as(self._fold)
        mine = [(m, kind) for s, m, kind in self._platforms if s == same(source)]
        kind = next((kind for m, kind in mine if m == medium), mine[0][1] if mine else "")
        if kind:
            return BY_KIND[kind], f"built-in rule: medium {medium} from a platform of the kind {kind}"
        return PAID[medium], f"built-in rule: medium {medium}"

    def _built_in(self, arrival: Arrival, referrer: str) -> tuple[str, str]:
        medium = fold(arrival.tags[1])
        if medium in PAID:
            return self._of_platform(arrival.tags[0], medium)
        if medium in _MEDIUM_CHANNEL:
            return _MEDIUM_CHANNEL[medium], f"built-in rule: medium {medium}"
        if arrival.tagged:
            return "Tagged, no rule", ANY_OTHER_TAG
        if arrival.marked:
            return "Paid, untagged", "built-in rule: a click mark without a tag"
        if referrer and self._search(referrer):
            return "Organic search", f"built-in rule: {referrer} is a known search site"
        if referrer and self._social(referrer):
            return "Social", f"built-in rule: {referrer} is a known social site"
        if referrer:
            return "Referral", f"built-in rule: referred by {referrer}"
        return DIRECT, "built-in rule: no tag, no mark, no outside referrer"
