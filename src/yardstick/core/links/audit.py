"""The account audit: the address that each ad of an account will send people to, and what is wrong with it, before the
first click."""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from ..base.words import fold
from ..plan.link_records import Dialect
from ..plan.plan import Linking, Reading
from ..reading.hosts import host_matcher
from ..reading.tags import FIELDS, ReadAddress, host_of, parameter_of, reader, split_address
from .addresses import LinkFinding, build, join_address
from .patterns import LEVELS, resolve

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


def audit(ads: Sequence[Ad], linking: Linking, reading: Reading) -> list[Audited]:
    """Work out the address of every ad and look at it as a visit would be read.

    Parameters
    ----------
    ads : rows; one without a pattern has that of the nearest level above it that a row states
    linking, reading : the plan's patterns and dialects, our hosts, tags that links must have

    Notes
    -----
    A platform puts the nearest pattern alone behind an address: a nearer one takes the place of those above it, whole.
    """
    above = _by_level(ads)
    read = reader(reading.click_marks, reading.extra_values, tag_parameters=reading.tag_parameters)
    ours = host_matcher(reading.own_hosts)
    dialects = {fold(d.platform): d for d in linking.dialects}

    def one(row: int, ad: Ad) -> Audited:
        return _one(row, ad, above, dialects.get(fold(ad.platform)), linking, reading, read, ours)

    return [one(row, ad) for row, ad in enumerate(ads)]


def _key(ad: Ad, level: str) -> tuple[str, ...]:
    names = (ad.platform, ad.account, ad.campaign, ad.group, ad.ad)
    return (level, *(fold(name) for name in names[: 2 + LEVELS.index(level)]))


def _level(ad: Ad) -> str:
    return fold(ad.level) if fold(ad.level) in LEVELS else "ad"


def _by_level(ads: Sequence[Ad]) -> dict[tuple[str, ...], str]:
    """The patterns that rows state, by what they hold for; of two for one the later row."""
    return {_key(ad, _level(ad)): ad.pattern.strip() for ad in ads if ad.pattern.strip()}


def _one(
    row: int, ad: Ad, above: dict[tuple[str, ...], str], dialect: Dialect | None, linking: Linking, reading: Reading,
    read: Callable[[str], ReadAddress], ours: Callable[[str], bool],
) -> Audited:  # fmt: skip
    stated = [(level, above[_key(ad, level)]) for level in reversed(LEVELS) if _key(ad, level) in above]
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
            LinkFinding("other_host", "warning", f"it leads to {host}, which is no host of yours", "", host)
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
            said = (
                f"{dialect.opens}{name}{dialect.closes} is no slot of {dialect.platform}: it arrives as it is written"
            )
            out.append(LinkFinding("unknown_slot", "error", said, "", name))
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
