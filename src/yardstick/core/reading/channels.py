"""Channel rules (R5): an ordered list, first match wins, and every visit can be asked why."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass

from ..base.conditions import condition
from ..base.errors import SettingsError
from ..base.words import fold, same_as
from ..plan.plan import Reading
from ..plan.records import ChannelRule, Condition

FIELDS = ("source", "medium", "campaign", "referrer host", "click mark present", "landing host")
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
PAID = {"cpc": "Paid search", "ppc": "Paid search", "paid": "Paid, kind unknown"}
"""Mediums that say paid and not what kind, and their channel where no platform says it (R5)."""
BY_KIND = {"search": "Paid search", "social": "Paid social", "panels": "Display", "video": "Video"}
"""The channel of such arrivals by the kind of the platform whose source they carry."""


@dataclass(frozen=True)
class Arrival:
    """What the channel rules look at: tags as they came, referrer host, click mark, landing host."""

    source: str
    medium: str
    campaign: str
    tagged: bool
    marked: bool
    referrer_host: str
    landing_host: str


@dataclass(frozen=True)
class Channel:
    """The channel of an arrival, the rule that said so, and whether it is Direct in the sense of R5."""

    name: str
    why: str
    direct: bool


def host_matcher(hosts: Iterable[str]) -> Callable[[str], bool]:
    """A test whether a host is one of a list or a subdomain of one (R5)."""
    known = {host.strip().lower().rstrip(".") for host in hosts} - {""}

    def listed(host: str) -> bool:
        labels = host.split(".")
        return any(".".join(labels[i:]) in known for i in range(len(labels)))

    return listed


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
            (rule, f"{whose} rule {number}: {rule.name}", [self._compile(whose, rule, c) for c in rule.when])
            for whose, rules in (("own", reading.channels), ("shared", reading.shared_channels))
            for number, rule in enumerate(rules, 1)
        ]
        same = same_as(reading.fold)
        self._platforms = [(same(s), fold(m), kind) for s, m, kind in reading.platform_kinds if same(s)]
        self._own = host_matcher(reading.own_hosts)
        self._pass = host_matcher(reading.pass_through_hosts)
        self._search = host_matcher(reading.search_sites)
        self._social = host_matcher(reading.social_sites)

    def classify(self, arrival: Arrival) -> Channel:
        """The channel of an arrival, with the rule that gave it."""
        referrer = self.outside(arrival.referrer_host, arrival.landing_host)
        direct = not (arrival.tagged or arrival.marked or referrer)
        fields = {
            "source": arrival.source,
            "medium": arrival.medium,
            "campaign": arrival.campaign,
            "referrer host": referrer,
            "click mark present": "yes" if arrival.marked else "",
            "landing host": arrival.landing_host,
        }
        for rule, why, conditions in self._written:
            if all(holds(fields) for holds in conditions):
                return Channel(rule.name, why, direct)
        name, why = self._built_in(arrival, referrer)
        return Channel(name, why, direct)

    def outside(self, referrer_host: str, landing_host: str) -> str:
        """The host that sent a visit from outside; empty where that was a page of our own, one passed through, or the
        very host it landed on, whatever lists name them (R5)."""
        inside = referrer_host.removeprefix("www.") == landing_host.removeprefix("www.")
        return "" if inside or self._pass(referrer_host) or self._own(referrer_host) else referrer_host

    def _of_platform(self, source: str, medium: str) -> tuple[str, str]:
        """Channel and reason of a medium that says paid: by the platform whose source it is, if that says its kind."""
        same = same_as(self._fold)
        mine = [(m, kind) for s, m, kind in self._platforms if s == same(source)]
        kind = next((kind for m, kind in mine if m == medium), mine[0][1] if mine else "")
        if kind:
            return BY_KIND[kind], f"built-in rule: medium {medium} from a platform of the kind {kind}"
        return PAID[medium], f"built-in rule: medium {medium}"

    def _built_in(self, arrival: Arrival, referrer: str) -> tuple[str, str]:
        medium = fold(arrival.medium)
        if medium in PAID:
            return self._of_platform(arrival.source, medium)
        if medium in _MEDIUM_CHANNEL:
            return _MEDIUM_CHANNEL[medium], f"built-in rule: medium {medium}"
        if arrival.tagged:
            return "Tagged, no rule", "built-in rule: any other tag"
        if arrival.marked:
            return "Paid, untagged", "built-in rule: a click mark without a tag"
        if referrer and self._search(referrer):
            return "Organic search", f"built-in rule: {referrer} is a known search site"
        if referrer and self._social(referrer):
            return "Social", f"built-in rule: {referrer} is a known social site"
        if referrer:
            return "Referral", f"built-in rule: referred by {referrer}"
        return DIRECT, "built-in rule: no tag, no mark, no outside referrer"

    def _compile(self, whose: str, rule: ChannelRule, stated: Condition) -> Callable[[dict[str, str]], bool]:
        where = f"{'shared ' if whose == 'shared' else ''}channel rule {rule.name!r}"
        name = fold(stated.field.replace("_", " ").replace("-", " "))
        name = "click mark present" if name == "click mark" else name
        if name not in FIELDS:
            raise SettingsError(f"{where}: unknown field {stated.field!r}; fields are {', '.join(FIELDS)}")
        clean = fold if name in ("medium", "referrer host", "landing host") else same_as(self._fold)
        values = stated.values
        if name == "click mark present":
            values = tuple(_yes_no(where, value) for value in values)
        holds = condition(where, stated.op, values, clean)
        return lambda fields: holds(fields[name])


def _yes_no(where: str, value: str) -> str:
    word = fold(value)
    if word in ("true", "yes", "1"):
        return "yes"
    if word in ("false", "no", "0", ""):
        return ""
    raise SettingsError(f"{where}: click mark present is held against true or false, not {value!r}")
