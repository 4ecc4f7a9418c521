"""Addresses with planted faults: each says which fault it has and what the mended address is.

The faults are made on whole addresses by text, without the code that looks for them.
"""

from __future__ import annotations

import random
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date

from yardstick.core.links.checkup import Checker
from yardstick.core.plan.plan import plan_of
from yardstick.core.plan.records import Campaign

SOURCES = ("quorrin", "ostrel", "tarvolin", "harnock", "ellivane", "chirrock", "brannoway")
MEDIUMS = ("cpc", "paid-social", "display", "video", "email", "newsletter", "poster")
CAMPAIGNS = ("Spring-Whale-Boats", "two-island-year-card", "midnight-boat", "freight-fridays", "crossing-news-26")
ENDED = "lantern-night-25"
ELSEWHERE = "harbour-tender"
PATHS = ("/", "/boats", "/boats/", "/card/2026", "/night.html", "/freight/enquiry")
KEPT = ("page=2", "lang=en", "ref=a%2Fb", "sort=price+up", "v=1.5", "q=caf%C3%A9", "next=%2Fboats%3Fday%3D3")
TODAY = date(2026, 11, 25)


def checker() -> Checker:
    """A checker that knows the plan these addresses belong to."""
    plan = plan_of(
        allowed=(("source", SOURCES), ("medium", MEDIUMS)),
        own_hosts=("lunnick.example",),
        click_marks=("ckid",),
        campaigns=(
            *(Campaign(name, ids=("h-7",) if name == "midnight-boat" else ()) for name in CAMPAIGNS),
            Campaign(ENDED, ends=date(2026, 1, 31)),
            Campaign(ELSEWHERE, host="freight.lunnick.example"),
        ),
        slot_pairs=(("!!", "!!"),),
    )
    return Checker(plan, today=TODAY)


@dataclass(frozen=True)
class Planted:
    """An address with one fault, the code it must be found under, and what it must be mended to."""

    code: str
    url: str
    mended: str


@dataclass
class _Clean:
    base: str
    pieces: list[str]
    fragment: str

    def __str__(self) -> str:
        return self.base + "?" + "&".join(self.pieces) + self.fragment

    def changed(self, at: int, text: str | None) -> str:
        pieces = [*self.pieces[:at], *([text] if text is not None else []), *self.pieces[at + 1 :]]
        return str(_Clean(self.base, pieces, self.fragment))

    def at(self, name: str) -> int:
        return next(i for i, p in enumerate(self.pieces) if p.startswith(f"utm_{name}="))

    def value(self, name: str) -> str:
        return self.pieces[self.at(name)].partition("=")[2]


def _clean(chance: random.Random) -> _Clean:
    pieces = [chance.choice(KEPT)] if chance.random() < 0.4 else []
    pieces += [f"utm_source={chance.choice(SOURCES)}", f"utm_medium={chance.choice(MEDIUMS)}"]
    pieces.append(f"utm_campaign={chance.choice(CAMPAIGNS)}")
    if chance.random() < 0.5:
        pieces.append(f"utm_content={chance.choice(('ad-a', 'ad%20b', 'A%2FB', '50%25-off', '83015', 'caf%C3%A9'))}")
    if chance.random() < 0.4:
        pieces.append(f"utm_term={chance.choice(('island+boat', 'night%20ferry', 'boat'))}")
    if chance.random() < 0.3:
        pieces.append(f"ckid={chance.getrandbits(48):012x}")
    fragment = chance.choice(("", "", "", "#book", "#top"))
    return _Clean("https://www.lunnick.example" + chance.choice(PATHS), pieces, fragment)


def clean_addresses(number: int, seed: int = 7) -> Iterator[str]:
    """Addresses that nothing is wrong with, some of them odd."""
    chance = random.Random(seed)
    odd = (
        "https://lunnick.example:8443/boats?utm_source=ostrel&utm_medium=paid-social&utm_campaign=midnight-boat",
        "/boats?utm_source=ostrel&utm_medium=paid-social&utm_campaign=midnight-boat",
        "https://www.lunnick.example/b?next=/a?b=c&utm_source=ostrel&utm_medium=cpc&utm_campaign=midnight-boat",
        "https://www.lunnick.example/b?utm_source=ostrel&utm_medium=cpc&utm_campaign=midnight-boat&utm_id=h-7",
        "https://www.lunnick.example/b?utm_source=ostrel&utm_medium=cpc&utm_id=h-7",
        "https://freight.lunnick.example/b?utm_source=ostrel&utm_medium=cpc&utm_campaign=harbour-tender",
        "https://www.lunnick.example/b?utm_source=ostrel&utm_medium=cpc&utm_campaign=midnight-boat#/route/2",
        "https://www.lunnick.example/b?utm_source=ostrel&utm_medium=cpc&utm_campaign=midnight-boat&utm_content=100%25%20off",
        "https://www.lunnick.example/b?ids=1,2,3&utm_source=ostrel&utm_medium=cpc&utm_campaign=midnight-boat&utm_x=own",
        "https://www.lunnick.example/b?utm_campaign=midnight-boat&utm_medium=cpc&utm_source=ostrel&size=50%25-70%25",
        "https://www.lunnick.example/b?tel=61855500104&utm_source=ostrel&utm_medium=cpc&utm_campaign=midnight-boat",
    )
    yield from odd
    for _ in range(number - len(odd)):
        yield str(_clean(chance))


def _plant(code: str, clean: _Clean, chance: random.Random) -> Planted:
    url = str(clean)
    field = chance.choice(("source", "medium", "campaign"))
    at, value = clean.at(field), clean.value(field)
    if code == "not_an_address":
        return Planted(code, url.removeprefix("https://"), url)
    if code == "tags_after_fragment":
        query = url.partition("?")[2].partition("#")[0]
        return Planted(code, clean.base + "#book?" + query, f"{clean.base}?{query}#book")
    if code == "second_question_mark":
        first = clean.at("source")
        broken = clean.base + "?" + "&".join(["page=2", *clean.pieces[:first]]) + "?" + "&".join(clean.pieces[first:])
        return Planted(
            code, broken + clean.fragment, str(_Clean(clean.base, ["page=2", *clean.pieces], clean.fragment))
        )
    if code == "html_entity":
        return Planted(code, url.replace("&", "&amp;"), url)
    if code == "raw_character":
        return Planted(
            code,
            clean.changed(at, clean.pieces[at]).replace(clean.base, clean.base + "x y"),
            url.replace(clean.base, clean.base + "x%20y"),
        )
    if code == "bad_encoding":
        return Planted(code, _with(clean, "utm_content=50%-off"), _with(clean, "utm_content=50%25-off"))
    if code == "doubly_encoded":
        return Planted(code, _with(clean, "utm_content=ad%2520b"), _with(clean, "utm_content=ad%20b"))
    if code == "misspelt_name":
        wrong = {"source": "utm_sorce", "medium": "utm-medium", "campaign": "utm_campain"}[field]
        return Planted(code, clean.changed(at, f"{wrong}={value}"), url)
    if code == "wrong_case_name":
        return Planted(code, clean.changed(at, f"UTM_{field.title()}={value}"), url)
    if code == "repeated_name":
        return Planted(code, clean.changed(at, f"utm_{field}={value}&utm_{field}={value}"), url)
    if code == "empty_value":
        return Planted(code, _with(clean, "utm_content="), _with(clean, None))
    if code == "missing_required":
        return Planted(code, clean.changed(at, None), clean.changed(at, None))
    if code == "unfilled_slot":
        slot = chance.choice(("{keyword}", "%7B%7Bterm%7D%7D", "%5Bterm%5D", "(:term:)", "!!term!!", "%%term%%"))
        return Planted(code, _with(clean, f"utm_term={slot}", "term"), _with(clean, None, "term"))
    if code == "slot_inside":
        odd = _with(clean, "utm_content=ad-%7Bsize%7D")
        return Planted(code, odd, odd)
    if code == "other_spelling":
        other = value.upper() if value.islower() else value.lower()
        return Planted(code, clean.changed(at, f"utm_{field}={other}"), url)
    if code == "near_miss":
        at = clean.at("campaign")
        value = clean.value("campaign")
        spots = [i for i in range(1, len(value) - 2) if value[i : i + 2].isalpha() and value[i] != value[i + 1]]
        spot = chance.choice(spots)
        wrong = value[:spot] + value[spot + 1] + value[spot] + value[spot + 2 :]
        return Planted(code, clean.changed(at, f"utm_campaign={wrong}"), url)
    if code == "not_allowed":
        odd = clean.changed(clean.at("source"), "utm_source=marrowgate")
        return Planted(code, odd, odd)
    if code == "unknown_campaign":
        odd = clean.changed(clean.at("campaign"), "utm_campaign=winter-lights")
        return Planted(code, odd, odd)
    if code == "campaign_ended":
        odd = clean.changed(clean.at("campaign"), f"utm_campaign={ENDED}")
        return Planted(code, odd, odd)
    if code == "wrong_host":
        odd = clean.changed(clean.at("campaign"), f"utm_campaign={ELSEWHERE}")
        return Planted(code, odd, odd)
    if code == "personal_data":
        piece = chance.choice(
            ("utm_term=edda%40groups.example", "utm_term=edda@groups.example", "utm_term=%2B61%208%205550%200104")
        )
        return Planted(code, _with(clean, piece, "term"), _with(clean, None, "term"))
    if code == "own_as_outside":
        wrong = clean.changed(clean.at("source"), "utm_source=lunnick.example")
        rest = [p for p in clean.pieces if not p.startswith(("utm_", "ckid"))]
        return Planted(code, wrong, clean.base + ("?" + "&".join(rest) if rest else "") + clean.fragment)
    if code == "foreign_host":
        odd = url.replace("www.lunnick.example", "www.lunick.example")
        return Planted(code, odd, odd)
    if code == "international_host":
        # RFC 3492 section 7.1 gives the encoding; the host is under ours so that only this is found.
        odd = url.replace("www.lunnick", "bücher.lunnick")
        return Planted(code, odd, url.replace("www.lunnick", "xn--bcher-kva.lunnick"))
    if code == "no_path":
        bare = "https://www.lunnick.example"
        return Planted(code, url.replace(clean.base, bare), url.replace(clean.base, bare + "/"))
    assert code == "too_long", code
    odd = _with(clean, "long=" + "x" * 2_100, "long")
    return Planted(code, odd, odd)


def _with(clean: _Clean, piece: str | None, name: str = "content") -> str:
    """The address with this piece in place of the one of that name, before the fragment."""
    pieces = [p for p in clean.pieces if not p.startswith(f"utm_{name}=")]
    return str(_Clean(clean.base, pieces + ([piece] if piece else []), clean.fragment))


FAULTS = (
    "not_an_address", "tags_after_fragment", "second_question_mark", "html_entity", "raw_character", "bad_encoding",
    "doubly_encoded", "misspelt_name", "wrong_case_name", "repeated_name", "empty_value", "missing_required",
    "unfilled_slot", "slot_inside", "other_spelling", "near_miss", "not_allowed", "unknown_campaign", "campaign_ended",
    "personal_data", "own_as_outside", "foreign_host", "wrong_host", "international_host", "no_path", "too_long",
)  # fmt: skip


def planted_faults(number: int = 520, seed: int = 11) -> list[Planted]:
    """Addresses with one planted fault each, all kinds in turn."""
    chance = random.Random(seed)
    return [_plant(FAULTS[i % len(FAULTS)], _clean(chance), chance) for i in range(number)]
