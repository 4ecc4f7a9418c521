"""Address patterns for ad platforms: fixed values beside slots, set for account, campaign, group or ad; the nearer
wins."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass

from ..base.words import Slots, fold
from ..plan.linking_phase import Dialect, OwnSlot, Pattern
from ..plan.reading_phase import USUALLY_REQUIRED
from ..reading.tags import FIELDS, parameter_of, split_address
from .addresses import LinkFinding, build, encode

PATTERN_LEVELS = ("account", "campaign", "group", "ad")
"""From far to near."""
REFERRER = "referrer"
"""The part of a pattern that is no parameter: what pages may learn of where the visitor comes from."""
SLOT = re.compile(r"\(:([^():]+):\)")
"""A slot as our own patterns write it."""
LANDING = "https://your-landing-page.invalid/"
"""Stands in the place of the landing page of a workspace that has not said any of its own: no host is called so (RFC
2606), so that nobody's address stands on its sheets."""


@dataclass(frozen=True)
class ResolvedPart:
    """One field of a resolved pattern: its text, and the level it came from."""

    field: str
    text: str
    level: str
    name: str


@dataclass(frozen=True)
class Cell:
    """What one level says of one part, and whether that is what counts.

    Attributes
    ----------
    field, level : of which part, at which level
    text : what is said there
    kind : the kind of campaign it is said for; empty = any
    counts : whether no nearer level says anything else
    """

    field: str
    level: str
    text: str
    kind: str
    counts: bool


@dataclass(frozen=True)
class Resolved:
    """A pattern for one ad, or for whatever stands at a level above.

    Attributes
    ----------
    parts : in the order of the address, the rule for the referrer last
    cells : what each level says of each part
    own : what own slots stand for, each with the level it came from
    address : with the platform's slots, on a landing page
    suffix : the parameters alone, as a level of the platform takes them
    with_landing : behind the platform's own slot for the landing page; empty if it has none
    preview : the address with example values in place of slots
    meant : parameter -> text that is to arrive, own slots expanded, the platform's as we write them
    one_question_mark : whether the address has exactly one `?` on this very landing page, in the platform's own writing
        as with its slots filled
    findings : what will go wrong
    withheld : why the preview must not stand on a sheet for others; empty if it may
    """

    parts: tuple[ResolvedPart, ...]
    cells: tuple[Cell, ...]
    own: tuple[ResolvedPart, ...]
    address: str
    suffix: str
    with_landing: str
    preview: str
    meant: tuple[tuple[str, str], ...]
    one_question_mark: bool
    findings: tuple[LinkFinding, ...]
    withheld: str = ""


def resolve(
    platform: str,
    campaign: str,
    group: str,
    kind: str,
    patterns: Iterable[Pattern],
    own_slots: Iterable[OwnSlot],
    dialect: Dialect | None,
    landing: str = LANDING,
    required: Sequence[str] = USUALLY_REQUIRED,
    ad: str = "",
) -> Resolved:
    """The pattern that holds for one ad, and where each part of it came from.

    Parameters
    ----------
    platform, campaign, group, kind, ad : what it is for; kind is the kind of campaign
    patterns, own_slots : all that are set; of two of one level that for this very name or kind goes before the general
    dialect : how the platform writes slots; None = not entered yet
    landing : landing page of the address and the preview
    required : tags that an address must have
    """
    nearness = {"account": "", "campaign": fold(campaign), "group": fold(group), "ad": fold(ad)}
    mine = [p for p in patterns if fold(p.platform) == fold(platform) and _fits(p, nearness, kind)]
    mine.sort(key=lambda p: (PATTERN_LEVELS.index(p.level), bool(p.name), bool(p.kind)))
    chosen: dict[str, ResolvedPart] = {}
    at_level: dict[tuple[str, str], tuple[str, str]] = {}
    for pattern in mine:
        for name, text in {**pattern.fields, REFERRER: pattern.referrer}.items():
            if text.strip():
                chosen[name] = ResolvedPart(name, text.strip(), pattern.level, pattern.name)
                at_level[name, pattern.level] = text.strip(), pattern.kind
    order = {name: i for i, name in enumerate(FIELDS)} | {REFERRER: 1_000}
    every = sorted(chosen.values(), key=lambda p: (order.get(p.field, len(FIELDS)), p.field))
    cells = tuple(
        Cell(part.field, level, *at_level[part.field, level], level == part.level)
        for part in every
        for level in PATTERN_LEVELS
        if (part.field, level) in at_level
    )
    parts = [part for part in every if part.field != REFERRER]
    own = _own(platform, nearness, own_slots)
    findings: list[LinkFinding] = []
    written = {p.field: _expanded(p, own) for p in parts}
    _check_slots(parts, written, dialect, findings)
    known = {fold(s.means): s for s in dialect.slots} if dialect else {}

    def in_dialect(text: str) -> str:
        def slot(match: re.Match[str]) -> str:
            found = known.get(fold(match.group(1)))
            return dialect.opens + found.name + dialect.closes if found and dialect else match.group()

        return _with_slots(text, slot)

    def filled(text: str) -> str:
        def slot(match: re.Match[str]) -> str:
            found = known.get(fold(match.group(1)))
            return encode(found.example) if found and found.example else match.group()

        return _with_slots(text, slot)

    pairs = [(f"utm_{p.field}" if p.field in FIELDS else p.field, written[p.field]) for p in parts]
    made = build(landing, pairs, in_dialect)
    findings += made.findings
    missing = [name for name in required if name not in chosen]
    findings += [
        LinkFinding(
            "missing_required", "error", f"no level says what {parameter_of(name)} is: set it for the account", name
        )
        for name in missing
    ]
    preview = build(landing, pairs, filled).url
    suffix = "&".join(f"{encode(name)}={in_dialect(text)}" for name, text in pairs)
    with_landing, landed = "", ""
    if dialect and dialect.landing and pairs:
        base, query, _ = split_address(landing)
        joint = "&" if query else "?"
        with_landing = f"{dialect.opens}{dialect.landing}{dialect.closes}{joint}{suffix}"
        landed = (f"{base}?{query}" if query else base) + joint + suffix
    one = bool(pairs) and all(_question_marks(url) == 1 for url in (made.url, preview, landed or preview))
    findings += _slot_in_path(landing, dialect)
    return Resolved(
        tuple(every), cells, tuple(own.values()), made.url, suffix, with_landing, preview, tuple(pairs), one,
        tuple(findings),
    )  # fmt: skip


def fits(text: str, arrived: str) -> bool:
    """Whether a value is a text of a pattern with something in the place of every slot.

    Examples
    --------
    >>> fits("(:group:)_(:ad:)", "whales_83015"), fits("(:group:)", "")
    (True, False)
    """
    first, *pieces = SLOT.sub("\0", text).split("\0")
    if not pieces or not arrived.startswith(first):
        return arrived == text
    # Each piece at its earliest place: what arrives is somebody else's, and an expression could run away on it.
    *between, last = pieces
    at = len(first)
    for piece in between:
        found = arrived.find(piece, at + 1)
        if found < 0:
            return False
        at = found + len(piece)
    return len(arrived) - len(last) > at and arrived.endswith(last)


def _fits(pattern: Pattern, nearness: Mapping[str, str], kind: str) -> bool:
    name = fold(pattern.name)
    return (not name or pattern.level == "account" or name == nearness[pattern.level]) and (
        not pattern.kind or fold(pattern.kind) == fold(kind)
    )


def _own(platform: str, nearness: Mapping[str, str], own_slots: Iterable[OwnSlot]) -> dict[str, ResolvedPart]:
    found: dict[str, ResolvedPart] = {}
    for slot in sorted(own_slots, key=lambda s: PATTERN_LEVELS.index(s.level)):
        if fold(slot.platform) == fold(platform) and fold(slot.name) == nearness[slot.level]:
            found[fold(slot.slot)] = ResolvedPart(slot.slot, slot.value, slot.level, slot.name)
    return found


def _expanded(part: ResolvedPart, own: Mapping[str, ResolvedPart]) -> str:
    return SLOT.sub(lambda m: own[fold(m.group(1))].text if fold(m.group(1)) in own else m.group(), part.text)


def _with_slots(text: str, slot: Callable[[re.Match[str]], str]) -> str:
    """Literal text percent-encoded, slots as `slot` writes them."""
    out, at = [], 0
    for match in SLOT.finditer(text):
        out += [encode(text[at : match.start()]), slot(match)]
        at = match.end()
    return "".join([*out, encode(text[at:])])


def _check_slots(
    parts: Sequence[ResolvedPart], written: Mapping[str, str], dialect: Dialect | None, findings: list[LinkFinding]
) -> None:
    known = {fold(s.means): s for s in dialect.slots} if dialect else {}
    for part in parts:
        for name in SLOT.findall(written[part.field]):
            slot = known.get(fold(name))
            if slot is None:
                there = ", ".join(s.means for s in dialect.slots) if dialect else "none: enter the platform's dialect"
                text = f"(:{name}:) is not a slot of this platform nor one of your own; there are {there}"
                findings.append(LinkFinding("unknown_slot", "error", text, part.field, name))
            elif slot.levels and part.level not in slot.levels:
                text = f"(:{name}:) may only be used at {', '.join(slot.levels)}, not at {part.level}"
                findings.append(LinkFinding("slot_level", "error", text, part.field, name))


def _slot_in_path(landing: str, dialect: Dialect | None) -> list[LinkFinding]:
    """Platforms fill slots behind the ? alone, and a page whose path has one is none."""
    base = split_address(landing)[0]
    pairs = [(dialect.opens, dialect.closes)] if dialect else []
    found = SLOT.search(base) or Slots(pairs).in_addresses.search(base)
    if not found:
        return []
    text = f"{found.group()} is in the path of the landing page: nobody fills it there. Write the page itself"
    return [LinkFinding("slot_in_path", "error", text, "", found.group())]


def _question_marks(url: str) -> int:
    """How many `?` stand before the fragment."""
    return url.partition("#")[0].count("?")
