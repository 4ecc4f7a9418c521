"""The columns of the link sheet: what goes in each, the words to pick from, and which a link must have."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from yardstick.core.base.words import fold
from yardstick.core.links.links import CELLS
from yardstick.core.plan.linking_phase import REFERRERS
from yardstick.core.plan.plan import Plan

_SAID = {
    "page": ("Where the link leads: an address, or the name of a landing page.", "Boats"),
    "campaign": ("The campaign as the plan knows it; all its links carry one value. Without it a visit belongs to no campaign.", "Midnight Boat"),
    "source": ("Which site or sender the visitor comes from. Without it nobody knows whom to pay.", "ostrel"),
    "medium": ("Which kind of advertising it is; the channel follows from it.", "paid-social"),
    "term": ("The keyword, or what this source puts in its place.", "island boat"),
    "content": ("What tells this ad from the next one to the same page.", "humpback-a"),
    "id": ("The platform's id of the campaign.", "q-101"),
    "placement": ("Where the link is put.", "Ostrel feed ad"),
    "box": ("Which box there takes it; empty: as the place says.", "Destination"),
    "placed_on": ("The day it was put there; empty: not yet.", "2026-09-01"),
    "placed_by": ("Who put it there.", "Tove"),
    "due": ("The day by which first visits must have come; empty: none.", "2026-09-08"),
    "price": ("What a click costs, in the home currency, if no platform reports it.", "0.35"),
    "price_from": ("First day the price holds; empty for always.", "2026-03-01"),
    "price_to": ("Last day the price holds; empty for always.", "2026-03-31"),
    "short": ("The ending of its short link.", "whales"),
    "rest": ("The extra value that is filled with what follows the ending in its short link.", "size"),
    "referrer": ("What its short link tells the page about where the visitor comes from; empty: as the campaign.", "host"),
    "shared": ("Why several links have this one address on purpose.", "the same button on three pages"),
    "note": ("Anything worth knowing; never in the address.", "second version"),
}  # fmt: skip


@dataclass(frozen=True)
class NamePart:
    """One part of a naming pattern; without words any text will do."""

    name: str
    words: tuple[str, ...]


@dataclass(frozen=True)
class SheetColumn:
    """A column of the sheet: its name, the line that says what goes in it, an example, and words to pick from.

    `called` tells what words stand for that do not say so themselves, such as ids of ads; `required` whether a link
    must have it; `parts` the parts of its naming pattern, each with the words it may be.
    """

    name: str
    text: str
    example: str
    words: tuple[str, ...]
    called: dict[str, str]
    required: bool = False
    parts: tuple[NamePart, ...] = ()


@dataclass(frozen=True)
class SheetAd:
    """An ad of the plan: its number as links carry it, what it is called, says and shows."""

    number: str
    name: str
    campaign: str
    text: str
    picture: str


def columns_of(plan: Plan, ads: Sequence[SheetAd]) -> tuple[SheetColumn, ...]:
    """The columns of the sheet under a plan, whose ads are picked from by number."""
    allowed, namings = dict(plan.reading.allowed), {n.field: n for n in plan.reading.namings}
    # Own parameters that count as tags are cells like any extra value.
    extra_values = tuple(dict.fromkeys((*plan.reading.extra_values, *plan.reading.tag_parameters)))
    required = {fold(name) for name in plan.reading.required_tags}

    def parts(name: str) -> tuple[NamePart, ...]:
        naming = namings.get(name)
        if naming is None:
            return ()
        words_of = naming.allowed or ((),) * len(naming.parts)
        return tuple(NamePart(part, tuple(words)) for part, words in zip(naming.parts, words_of, strict=True))

    words: dict[str, tuple[str, ...]] = {
        "page": tuple(p.name for p in plan.reading.pages),
        "campaign": tuple(c.name for c in plan.campaigns),
        "placement": tuple(p.name for p in plan.linking.places),
        "content": tuple(ad.number for ad in ads),
        "referrer": REFERRERS,
        **allowed,
    }
    called = {ad.number: " - ".join(word for word in (ad.name, ad.text, ad.picture) if word) for ad in ads}
    out = [
        SheetColumn(
            name, *_SAID[name], words.get(name, ()), called if name == "content" else {}, name in required, parts(name)
        )
        for name in CELLS
    ]  # fmt: skip
    own = "A value of your own, in the address under its name."
    extra = [SheetColumn(name, own, "", allowed.get(name, ()), {}, fold(name) in required) for name in extra_values]
    at = CELLS.index("placement")
    return (*out[:at], *extra, *out[at:])
