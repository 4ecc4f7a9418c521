"""The account audit: the address that each ad of an account will send people to, and what is wrong with it, before the
first click."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace

from ..base.tables import Table
from ..base.words import fold
from ..plan.linking_phase import Dialect, Linking
from ..plan.reading_phase import Reading
from ..reading.hosts import host_matcher
from ..reading.tags import FIELDS, ReadAddress, host_of, parameter_of, reader, split_address
from .addresses import LinkFinding, build, join_address
from .patterns import PATTERN_LEVELS, resolve

OWN = "plan"
"""Where a pattern comes from that no row of the account states."""


@dataclass(frozen=True)
class Ad:
    """A row of the table `ads`: an ad, its landing page, and what a level says that is put behind it."""

    platform: str
    account: str
    campaign: str
    group: str
    ad: str
    level: str
    pattern: str
    address: str
    state: str


RESTING = ("paused", "stopped", "ended", "removed", "archived", "off", "draft")
"""Words for ads that nobody sees."""
UNTAGGED_CODES = frozenset(("untagged", "ad_without_pattern"))
"""Findings that say that visits will arrive untagged."""


def ads_of(table: Table) -> list[Ad]:
    """The rows of the table `ads`."""
    names = ("platform", "account", "campaign", "ad_group", "ad", "level", "pattern", "address", "state")
    return [Ad(*cells) for cells in zip(*(table.text(name).strings() for name in names), strict=True)]


@dataclass(frozen=True)
class Audited:
    """What an ad's address comes to.

    Attributes
    ----------
    row : number of the ad
    address : with the platform's slots, as it will be written
    level : whose pattern it has: a level, `OWN`, or nothing
    tagged : whether a visit through it would carry any tag
    findings : what is wrong
    """

    row: int
    address: str
    level: str
    tagged: bool
    findings: tuple[LinkFinding, ...]


def audit(
    ads: Sequence[Ad], linking: Linking, reading: Reading, landing: Mapping[str, str] | None = None
) -> list[Audited]:
    """Work out the address of every ad and look at it as a visit would be read.

    Parameters
    ----------
    ads : rows; one without a pattern has that of the nearest level above it that a row states
    linking, reading : the plan's patterns and dialects, our hosts, tags that links must have
    landing : campaign -> its landing page, for ads without an address of their own

    Notes
    -----
    A platform puts the nearest pattern alone behind an address: a nearer one takes the place of those above it, whole.
    """
    above, pages = _by_level(ads, "pattern"), {**_pages(landing), **_by_level(ads, "address")}
    read = reader(reading.click_marks, reading.extra_values, tag_parameters=reading.tag_parameters)
    ours = host_matcher(reading.own_hosts)
    dialects = {fold(d.platform): d for d in linking.dialects}

    def one(row: int, ad: Ad) -> Audited:
        own = fold(ad.platform)
        others = [d for name, d in dialects.items() if name != own]
        page = ad.address.strip() or next((p for key in _above(ad) if (p := pages.get(key, ""))), "")
        found = _one(row, replace(ad, address=page), above, dialects.get(own), linking, reading, read, ours)
        strange = _foreign(found.address, dialects.get(own), others)
        if not page:
            said = LinkFinding("no_address", "error", "neither the ad nor a level above it says where it leads")
            strange = [said, *strange]
        return replace(found, findings=(*strange, *found.findings)) if strange else found

    # A row of a level above says what its ads have, and is none.
    return [one(row, ad) for row, ad in enumerate(ads) if ad.ad.strip()]


def _key(ad: Ad, level: str) -> tuple[str, ...]:
    names = (ad.platform, ad.account, ad.campaign, ad.group, ad.ad)
    return (level, *(fold(name) for name in names[: 2 + PATTERN_LEVELS.index(level)]))


def _level(ad: Ad) -> str:
    return fold(ad.level) if fold(ad.level) in PATTERN_LEVELS else "ad"


def _by_level(ads: Sequence[Ad], what: str) -> dict[tuple[str, ...], str]:
    """The patterns that rows state, or the addresses of levels above ads, by what they hold for; the later row wins."""
    stated = [ad for ad in ads if getattr(ad, what).strip() and (what == "pattern" or not ad.ad.strip())]
    return {_key(ad, _level(ad)): getattr(ad, what).strip() for ad in stated}


def _above(ad: Ad) -> list[tuple[str, ...]]:
    """Keys of the levels above an ad, the nearest first, and of its campaign wherever it runs."""
    return [*(_key(ad, level) for level in reversed(PATTERN_LEVELS) if level != "ad"), ("landing", fold(ad.campaign))]


def _pages(landing: Mapping[str, str] | None) -> dict[tuple[str, ...], str]:
    return {("landing", fold(campaign)): page for campaign, page in (landing or {}).items()}


_PAIRS = re.compile(
    r"\{\{[\w.: -]{1,60}\}\}|\{[\w.: -]{1,60}\}|\[\[[\w.: -]{1,60}\]\]|\[[\w.: -]{1,60}\]|\(:[\w.: -]{1,60}:\)"
)
"""What is a slot somewhere (R4)."""


def _foreign(address: str, own: Dialect | None, others: Sequence[Dialect]) -> list[LinkFinding]:
    """Slots that are none of the platform's dialect: they arrive as they are written."""
    left = _filled(address, own)
    found: dict[str, str] = {}
    for other in others:
        pattern = _slot_of(other)
        for match in pattern.finditer(left) if pattern else ():
            found[match[0]] = f"{match[0]} is a slot of {other.platform}"
    for match in _PAIRS.finditer(left):
        found.setdefault(match[0], f"{match[0]} looks like a slot")
    whose = own.platform if own is not None else "this platform"
    return [
        LinkFinding("foreign_slot", "error", f"{said} and none of {whose}: it arrives as it is written", "", text)
        for text, said in found.items()
    ]


def _one(
    row: int, ad: Ad, above: dict[tuple[str, ...], str], dialect: Dialect | None, linking: Linking, reading: Reading,
    read: Callable[[str], ReadAddress], ours: Callable[[str], bool],
) -> Audited:  # fmt: skip
    stated = [(level, above[_key(ad, level)]) for level in reversed(PATTERN_LEVELS) if _key(ad, level) in above]
    findings: list[LinkFinding] = []
    if stated:
        level, text = stated[0]
        address = _with_suffix(ad.address, text)
        findings += _slots(text, level, dialect)
        findings += _overridden(stated, read)
    else:
        resolved = resolve(
            ad.platform, ad.campaign, ad.group, "", linking.patterns, linking.own_slots, dialect, ad.address,
            reading.required_tags, ad.ad,
        )  # fmt: skip
        level = OWN if resolved.parts else ""
        address = resolved.address if resolved.parts else build(ad.address, ()).url
        findings += [f for f in resolved.findings if f.code != "missing_required"] if resolved.parts else []
    found = read(_filled(address, dialect))
    if not found.tagged:
        if level:
            text = f"the pattern of the {level} carries no tag: visits arrive untagged"
        else:
            text = "no level has a pattern and the address has no tag: visits arrive untagged"
        code = "untagged" if level else "ad_without_pattern"
        findings.insert(0, LinkFinding(code, "error", text))
    else:
        values = found.values()
        missing = [name for name in reading.required_tags if not values.get(name)]
        findings += [
            LinkFinding("missing_required", "error", f"{parameter_of(name)} is in no part of it", name)
            for name in missing
        ]
    host = host_of(ad.address)
    if host and reading.own_hosts and not ours(host):
        findings.append(
            LinkFinding("other_host", "warning", f"it leads to {host}, which is not one of your hosts", "", host)
        )
    return Audited(row, address, level, found.tagged, tuple(findings))


def _with_suffix(address: str, suffix: str) -> str:
    """An address with what a level puts behind it, whole or as parameters."""
    if "://" in suffix.split("?", 1)[0]:
        return suffix
    base, query, fragment = split_address(address.strip())
    added = suffix.lstrip("?&")
    return join_address(base, f"{query}&{added}" if query else added, fragment)


def _slot_of(dialect: Dialect | None) -> re.Pattern[str] | None:
    if dialect is None or not dialect.opens or not dialect.closes:
        return None
    return re.compile(re.escape(dialect.opens) + r"(.{1,80}?)" + re.escape(dialect.closes))


def _filled(address: str, dialect: Dialect | None) -> str:
    """An address with something in the place of each slot, as it arrives."""
    pattern = _slot_of(dialect)
    return pattern.sub("x", address) if pattern else address


def _slots(text: str, level: str, dialect: Dialect | None) -> list[LinkFinding]:
    pattern = _slot_of(dialect)
    if dialect is None or pattern is None:
        return []
    known = {slot.name: slot for slot in dialect.slots}
    out = []
    for name in pattern.findall(text):
        slot = known.get(name)
        if slot is None:
            shown = f"{dialect.opens}{name}{dialect.closes}"
            text = f"{shown} is not a slot of {dialect.platform}: it arrives as it is written"
            out.append(LinkFinding("unknown_slot", "error", text, "", name))
        elif slot.levels and level not in slot.levels:
            said = f"{dialect.opens}{name}{dialect.closes} may only stand at {', '.join(slot.levels)}, not at {level}"
            out.append(LinkFinding("slot_level", "error", said, "", name))
    return out


def _overridden(stated: Sequence[tuple[str, str]], read: Callable[[str], ReadAddress]) -> list[LinkFinding]:
    """What the nearest pattern takes away that one above it would have said."""
    near, text = stated[0]
    has = _names(text)
    out = []
    for far, other in stated[1:]:
        gone = sorted(_names(other) - has)
        if gone:
            said = (
                f"the pattern of the {near} takes the place of that of the {far}: {', '.join(gone)} of it never arrives"
            )
            out.append(LinkFinding("level_overrides", "warning", said, gone[0].removeprefix("utm_")))
    return out


def _names(suffix: str) -> set[str]:
    """Names of the tags in a pattern."""
    query = suffix.partition("?")[2] if "?" in suffix else suffix
    names = (fold(piece.partition("=")[0]) for piece in query.lstrip("?&").split("&"))
    return {name for name in names if name.removeprefix("utm_") in FIELDS or name.startswith("utm_")}
