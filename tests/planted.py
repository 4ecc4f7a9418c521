"""Addresses with planted faults: each says which fault it has and what the mended address is.

Every world is made of invented words: names of campaigns in series and in several languages, sources, places. The faults
are made on whole addresses by text, without the code that looks for them.
"""

from __future__ import annotations

import random
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from datetime import date
from functools import lru_cache
from itertools import pairwise

from yardstick.core.links.checkup import Checker
from yardstick.core.plan.campaign_records import Campaign
from yardstick.core.plan.linking_phase import Dialect, DialectSlot, Store
from yardstick.core.plan.plan import plan_of

TUNED, FRESH = 7, 20_261
"""A seed that the check-up was made with, and one that nothing was ever tuned on."""
MEDIUMS = ("cpc", "paid-social", "display", "video", "email", "newsletter", "poster")
PATHS = ("/", "/boats", "/boats/", "/card/2026", "/night.html", "/freight/enquiry", "/~crew", "/a/b;v=1")
KEPT = ("page=2", "lang=en", "ref=a%2Fb", "sort=price+up", "v=1.5", "q=caf%C3%A9", "next=%2Fboats%3Fday%3D3", "t=1;2")
CONTENTS = (
    "ad-a",
    "ad%20b",
    "A%2FB",
    "50%25-off",
    "83015",
    "caf%C3%A9",
    "2026-03-01",
    "%2B10%25",
    "v1.2_b",
    "0123456789",
)
TERMS = ("island+boat", "night%20ferry", "boat", "autumn+2026-03-01", "06.11.2026", "100%25%20off", "cabins+2-4")
TODAY = date(2026, 11, 27)
SITE = "https://www.lunnick.example"


@dataclass(frozen=True)
class World:
    """What is known in one made-up workspace.

    Attributes
    ----------
    sources : allowed sources
    campaigns : names that links may carry
    codes : code by plain name, of campaigns that have one
    ended, elsewhere : a campaign that has ended, one whose links lead to another host
    creatives : contents with which many visits came
    """

    sources: tuple[str, ...]
    campaigns: tuple[str, ...]
    codes: dict[str, str]
    ended: str
    elsewhere: str
    creatives: tuple[str, ...]


def _word(chance: random.Random, least: int = 2, most: int = 3) -> str:
    starts, vowels, ends = (
        [
            "b",
            "br",
            "d",
            "dr",
            "f",
            "fl",
            "g",
            "gr",
            "h",
            "k",
            "l",
            "m",
            "n",
            "p",
            "pr",
            "r",
            "s",
            "st",
            "t",
            "tr",
            "v",
            "w",
        ],
        ["a", "e", "i", "o", "u"],
        ["", "n", "r", "l", "s", "nd", "rk", "m"],
    )
    return "".join(
        chance.choice(starts) + chance.choice(vowels) for _ in range(chance.randint(least, most))
    ) + chance.choice(ends)


@lru_cache
def world(seed: int) -> World:
    """A world; distinct names are far enough from each other that a slip of the finger is none of another."""
    chance = random.Random(seed)
    taken: list[str] = []

    def fresh(make: Callable[[], str]) -> str:
        while True:
            word = make()
            if all(_far(word, other) for other in taken):
                taken.append(word)
                return word

    sources = tuple(fresh(lambda: _word(chance, 3, 3)) for _ in range(7))
    campaigns: list[str] = []
    codes: dict[str, str] = {}
    for style in ("-", "_", " ", "-", "_", " "):
        name = fresh(lambda style=style: style.join(_word(chance, 2, 3) for _ in range(chance.randint(2, 3))))
        shaped = name.title() if style == " " or chance.random() < 0.3 else name
        campaigns.append(shaped)
        if style == " ":
            codes[shaped] = (
                shaped.lower().replace(" ", "-") if chance.random() < 0.5 else fresh(lambda: _word(chance, 3, 4))
            )
    stem = fresh(lambda: f"{_word(chance)}_{_word(chance)}")
    campaigns += [f"{stem}_{tongue}" for tongue in ("de", "nl", "en", "fr")]
    stem = fresh(lambda: f"{_word(chance)}-{_word(chance)}")
    campaigns += [f"{stem}-{letter}" for letter in "abc"]
    stem = fresh(lambda: f"{_word(chance)}-{_word(chance)}")
    campaigns += [f"{stem}-{year}" for year in (2025, 2026)] + [stem]
    stem = fresh(lambda: f"{_word(chance)} {_word(chance)}").title()
    campaigns += [f"{stem} {side}" for side in ("North", "South", "East", "West")]
    stem = fresh(lambda: _word(chance, 3, 3))
    creatives = [f"{stem}_{a}_{b}" for a in ("v1", "v2", "v3") for b in ("s", "m", "l")]
    return World(
        sources, tuple(campaigns), codes, fresh(lambda: f"{_word(chance)}-{_word(chance)}"),
        fresh(lambda: f"{_word(chance)}-{_word(chance)}"), tuple(creatives),
    )  # fmt: skip


def _far(one: str, other: str) -> bool:
    shared = set(pairwise(one)) & set(pairwise(other))
    return one != other and len(shared) < max(2, min(len(one), len(other)) // 2)


def checker(seed: int = TUNED) -> Checker:
    """A checker that knows the plan these addresses belong to, and what arrived."""
    made = world(seed)
    plan = plan_of(
        allowed=(("source", made.sources), ("medium", MEDIUMS)),
        own_hosts=("lunnick.example",),
        click_marks=("ckid",),
        campaigns=(
            *(
                Campaign(name, code=made.codes.get(name, ""), ids=("h-7",) if at == 0 else ())
                for at, name in enumerate(made.campaigns)
            ),
            Campaign(made.ended, ends=date(2026, 1, 31)),
            Campaign(made.elsewhere, host="freight.lunnick.example"),
        ),
        slot_pairs=(("!!", "!!"),),
        dialects=(Dialect("Harnock", "!!", "!!", (DialectSlot("term", "keyword"),)),),
        stores=(Store("", "", "any", scheme="lunnickapp"),),
    )
    return Checker(plan, today=TODAY, arrived={"content": made.creatives})


@dataclass(frozen=True)
class Planted:
    """An address with one fault, the codes under which it may be found, and what it must be mended to."""

    kind: str
    codes: frozenset[str]
    url: str
    mended: str


@dataclass
class Clean:
    """An address that nothing is wrong with, in pieces."""

    world: World
    base: str
    pieces: list[str]
    fragment: str
    chance: random.Random = field(repr=False, compare=False)

    def __str__(self) -> str:
        return self.base + "?" + "&".join(self.pieces) + self.fragment

    def but(self, **changes: object) -> str:
        """The address with other parts."""
        now = {"base": self.base, "pieces": self.pieces, "fragment": self.fragment} | changes
        return str(Clean(self.world, chance=self.chance, **now))  # type: ignore[arg-type]

    def at(self, name: str) -> int:
        return next(i for i, p in enumerate(self.pieces) if p.startswith(f"utm_{name}="))

    def value(self, name: str) -> str:
        return self.pieces[self.at(name)].partition("=")[2]

    def tag(self) -> str:
        return self.chance.choice(("source", "medium", "campaign"))

    def piece(self, name: str, *texts: str) -> str:
        """The address with these pieces in place of the one of that tag."""
        at = self.at(name)
        return self.but(pieces=[*self.pieces[:at], *texts, *self.pieces[at + 1 :]])

    def more(self, name: str, text: str | None) -> str:
        """The address with this piece at its end, in place of the one of that tag."""
        pieces = [p for p in self.pieces if not p.startswith(f"utm_{name}=")]
        return self.but(pieces=pieces + ([text] if text else []))


def clean(made: World, chance: random.Random) -> Clean:
    """One address that nothing is wrong with."""
    pieces = [chance.choice(KEPT)] if chance.random() < 0.4 else []
    pieces += [f"utm_source={chance.choice(made.sources)}", f"utm_medium={chance.choice(MEDIUMS)}"]
    name = chance.choice(made.campaigns)
    linked = made.codes.get(name, name) if chance.random() < 0.5 else name
    pieces.append("utm_campaign=" + linked.replace(" ", chance.choice(("%20", "+"))))
    if chance.random() < 0.5:
        pieces.append(f"utm_content={chance.choice((*CONTENTS, *made.creatives))}")
    if chance.random() < 0.4:
        pieces.append(f"utm_term={chance.choice(TERMS)}")
    if chance.random() < 0.3:
        pieces.append(f"ckid={chance.getrandbits(48):012x}")
    return Clean(made, SITE + chance.choice(PATHS), pieces, chance.choice(("", "", "", "#book", "#top")), chance)


def clean_addresses(number: int, seed: int = TUNED) -> Iterator[str]:
    """Addresses that nothing is wrong with, some of them odd."""
    made, chance = world(seed), random.Random(seed)
    tags = f"utm_source={made.sources[0]}&utm_medium=cpc&utm_campaign={made.campaigns[0].replace(' ', '%20')}"
    odd = (
        f"https://lunnick.example:8443/boats?{tags}",
        f"/boats?{tags}",
        f"{SITE}/b?next=/a?b=c&{tags}",
        f"{SITE}/b?{tags}&utm_id=h-7",
        f"{SITE}/b?utm_source={made.sources[1]}&utm_medium=cpc&utm_id=h-7",
        f"https://freight.lunnick.example/b?utm_source={made.sources[0]}&utm_medium=cpc&utm_campaign={made.elsewhere}",
        f"{SITE}/b?{tags}#/route/2",
        f"{SITE}/b?{tags}&utm_content=100%25%20off",
        f"{SITE}/b?ids=1,2,3&{tags}&utm_x=own",
        f"{SITE}/b?{tags}&size=50%25-70%25",
        f"{SITE}/b?img=hero@2x.png&{tags}",
        f"{SITE}/b?{tags}&utm_content=hero%402x.min.js",
        f"{SITE}/b?sku=0012345678905&{tags}",
        f"{SITE}/b?order=0412%20555%20104&{tags}",
        f"{SITE}/b?{tags}&utm_content=0412-555-104",
        f"{SITE}/b?{tags}&utm_term=boat+61855500104",
        f"{SITE}/@crew/b?{tags}",
        f"{SITE}/b?to=%2Fboats%3Fday%3D3%26utm_source%3Dx&{tags}",
        f"https://xn--bcher-kva.lunnick.example/b?{tags}",
        f"lunnickapp://boats?{tags}",
        f"{SITE}/b?{tags}&utm_team=crew",
        f"{SITE}/b?{tags}&utm_content=20%2530",
        f"{SITE}/b?{tags}&utm_content=red;blue",
    )
    yield from odd
    for _ in range(number - len(odd)):
        yield str(clean(made, chance))


def _swapped(value: str, chance: random.Random) -> str:
    """Two neighbouring letters of a longer part of a name in the wrong order, neither at an end of it."""
    spots = [
        i for i in range(1, len(value) - 2)
        if value[i - 1 : i + 3].isalpha() and value[i] != value[i + 1]
    ]  # fmt: skip
    at = chance.choice(spots)
    return value[:at] + value[at + 1] + value[at] + value[at + 2 :]


def _dropped(value: str, chance: random.Random) -> str:
    spots = [i for i in range(2, len(value) - 2) if value[i - 2 : i + 3].isalpha()]
    at = chance.choice(spots or [len(value) // 2])
    return value[:at] + value[at + 1 :]


def _long_name(c: Clean) -> str:
    """A campaign of no series, with long words."""
    name = c.chance.choice(
        [n for n in c.world.campaigns[:6] if any(len(p) > 4 for p in n.replace("_", "-").replace(" ", "-").split("-"))]
    )
    c.pieces[c.at("campaign")] = "utm_campaign=" + name.replace(" ", "%20")
    return name.replace(" ", "%20")


Fault = Callable[[Clean], tuple[str, str, str]]


def _with_query_moved(c: Clean) -> tuple[str, str, str]:
    query = str(c).partition("?")[2].partition("#")[0]
    return "tags_after_fragment", c.base + "#book?" + query, f"{c.base}?{query}#book"


def _second_mark(c: Clean) -> tuple[str, str, str]:
    # Behind a page that a parameter holds the ? would be that page's.
    c.pieces = [piece for piece in c.pieces if not piece.startswith(("next=", "ref="))]
    first = c.at("source")
    broken = c.base + "?" + "&".join(["page=3", *c.pieces[:first]]) + "?" + "&".join(c.pieces[first:])
    return "second_question_mark", broken + c.fragment, c.but(pieces=["page=3", *c.pieces])


def _joined(sign: str) -> Fault:
    """Another sign in the place of the = of a tag."""

    def plant(c: Clean) -> tuple[str, str, str]:
        name = c.tag()
        return _same("no_equals", c.piece(name, c.pieces[c.at(name)].replace("=", sign)))

    return plant


def _target(written: str) -> Fault:
    """The address as the target of another one, whose own tags are nobody's."""

    def plant(c: Clean) -> tuple[str, str, str]:
        first = c.at("source")
        tags = "&".join(c.pieces[first:])
        return _same("target_inside", f"{SITE}/go?to={written}?{tags}")

    return plant


def _encoded_mark(c: Clean) -> tuple[str, str, str]:
    first = c.at("source")
    return _same("no_question_mark", c.but(pieces=c.pieces[first:]).replace("?", "%3F"))


def _in_value(sign: str) -> Fault:
    def plant(c: Clean) -> tuple[str, str, str]:
        return _same("split_value", c.piece("campaign", f"utm_campaign=pots{sign}pans"))

    return plant


def _same(code: str, url: str) -> tuple[str, str, str]:
    return code, url, url


def _slot(text: str) -> Fault:
    return lambda c: _same("unfilled_slot", c.more("term", f"utm_term={text}"))


def _left(code: str, text: str, name: str = "term") -> Fault:
    """A value that is left as it came."""
    return lambda c: _same(code, c.more(name, f"utm_{name}={text}"))


def _content(code: str, wrong: str, right: str | None) -> Fault:
    return lambda c: (
        code, c.more("content", f"utm_content={wrong}"), c.more("content", f"utm_content={right}" if right else None)
    )  # fmt: skip


def _name(wrong: dict[str, str], code: str) -> Fault:
    def plant(c: Clean) -> tuple[str, str, str]:
        name = c.tag()
        return code, c.piece(name, f"{wrong[name]}={c.value(name)}"), str(c)

    return plant


def _host(code: str, other: str, right: str | None = None) -> Fault:
    def plant(c: Clean) -> tuple[str, str, str]:
        url = str(c).replace("www.lunnick", other)
        return code, url, url if right is None else str(c).replace("www.lunnick", right)

    return plant


def _typo(change: Callable[[str, random.Random], str]) -> Fault:
    def plant(c: Clean) -> tuple[str, str, str]:
        name = _long_name(c)
        wrong = change(name.replace("%20", " "), c.chance).replace(" ", "%20")
        return "near_miss", c.piece("campaign", f"utm_campaign={wrong}"), str(c)

    return plant


def _source_typo(c: Clean) -> tuple[str, str, str]:
    return "near_miss", c.piece("source", f"utm_source={_swapped(c.value('source'), c.chance)}"), str(c)


def _case(c: Clean) -> tuple[str, str, str]:
    name = c.chance.choice(("source", "medium"))
    return "other_spelling", c.piece(name, f"utm_{name}={c.value(name).upper()}"), str(c)


def _punctuation(c: Clean) -> tuple[str, str, str]:
    c.pieces[c.at("medium")] = "utm_medium=paid-social"
    return "other_spelling", c.piece("medium", "utm_medium=paid_social"), str(c)


FAULTS: dict[str, Fault] = {
    "no scheme": lambda c: ("not_an_address", str(c).removeprefix("https://"), str(c)),
    "backslashes": lambda c: ("not_an_address", str(c).replace("https://", "https:\\\\"), str(c)),
    "a port that is none": lambda c: _same("not_an_address", str(c).replace(SITE, SITE + ":99999")),
    "a host with an empty part": lambda c: _same("not_an_address", str(c).replace("lunnick.", "lunnick..")),
    "tags after the fragment": _with_query_moved,
    "a second question mark": _second_mark,
    "no question mark": lambda c: ("no_question_mark", c.base + "&" + str(c).partition("?")[2], str(c)),
    "semicolons between pairs": lambda c: ("wrong_separator", str(c).replace("&utm_", ";utm_"), str(c)),
    "an entity": lambda c: ("html_entity", str(c).replace("&", "&amp;"), str(c)),
    "a space in the path": lambda c: ("raw_character", c.but(base=c.base + "x y"), c.but(base=c.base + "x%20y")),
    "letters outside ASCII in the path": lambda c: (
        "raw_character", c.but(base=c.base + "søndag"), c.but(base=c.base + "s%C3%B8ndag")
    ),
    "a percent sign alone": _content("bad_encoding", "50%-off", "50%25-off"),
    "another encoding": _content("bad_encoding", "M%FCnchen", "M%C3%BCnchen"),
    "a space encoded twice": _content("doubly_encoded", "ad%2520b", "ad%20b"),
    "letters encoded twice": _content("doubly_encoded", "caf%25C3%25A9", "caf%C3%A9"),
    "a letter of a name missing": _name(
        {"source": "utm_sorce", "medium": "utm_medum", "campaign": "utm_campain"}, "misspelt_name"
    ),
    "a hyphen in a name": _name(
        {"source": "utm-source", "medium": "utm-medium", "campaign": "utm-campaign"}, "misspelt_name"
    ),
    "no sign in a name": _name({"source": "utmsource", "medium": "utmmedium", "campaign": "utmcampaign"}, "misspelt_name"),
    "letters of a name swapped": _name(
        {"source": "utm_soucre", "medium": "utm_meduim", "campaign": "utm_camapign"}, "misspelt_name"
    ),
    "a name in capitals": _name(
        {"source": "UTM_SOURCE", "medium": "UTM_MEDIUM", "campaign": "UTM_CAMPAIGN"}, "wrong_case_name"
    ),
    "a name with one capital": _name(
        {"source": "utm_Source", "medium": "utm_Medium", "campaign": "Utm_campaign"}, "wrong_case_name"
    ),
    "a name twice": lambda c: (lambda n: ("repeated_name", c.piece(n, *[c.pieces[c.at(n)]] * 2), str(c)))(c.tag()),
    "a name twice with two values": lambda c: _same(
        "repeated_name", c.piece("medium", "utm_medium=cpc", "utm_medium=poster")
    ),
    "an empty value": _content("empty_value", "", None),
    "a tag missing": lambda c: (lambda n: _same("missing_required", c.piece(n)))(c.tag()),
    "a slot in braces": _slot("{keyword}"),
    "an encoded slot": _slot("%7B%7Bterm%7D%7D"),
    "a slot in percent signs": _slot("%%term%%"),
    "a slot that begins like an escape": _slot("%CAMPAIGN%"),
    "a slot of a dialect": _slot("!!term!!"),
    "a slot of ours": _slot("(:term:)"),
    "a slot inside": lambda c: _same("slot_inside", c.more("content", "utm_content=ad-%7Bsize%7D")),
    "a slot inside, as written": _left("slot_inside", "lid-{adid}", "content"),
    "a slot before a text": _left("slot_inside", "{{ad.name}}_v2", "content"),
    "a slot behind a sign": _left("slot_inside", "${campaign}", "content"),
    "a slot with a space": _left("slot_inside", "x-{{ad name}}", "content"),
    "the first half of a slot": _left("half_slot", "{keyword"),
    "the second half of a slot": _left("half_slot", "keyword}"),
    "the first half of a dialect's slot": _left("half_slot", "!!keyword"),
    "a slot that its platform does not know": _left("unknown_slot", "!!keywrd!!"),
    "a slot in the path": lambda c: _same("slot_in_path", c.but(base=SITE + "/ads/{adid}")),
    "a word for nothing": lambda c: _left(
        "placeholder", c.chance.choice(("null", "undefined", "(not%20set)", "__TERM__")), "term"
    )(c),
    "spaces at the edge": lambda c: (
        "edge_space", c.piece("source", f"utm_source=%20{c.value('source')}+"), str(c)
    ),
    "a wrong encoding read once": _content("mojibake", "M%C3%83%C2%BCnchen", "M%C3%BCnchen"),
    "%3D for =": _joined("%3D"),
    "a colon for =": _joined(":"),
    "a blank for =": _joined("%20"),
    "tags inside an encoded target": _target("https%3A%2F%2Fwww.lunnick.example%2Fboats"),
    "tags inside a target that is not encoded": _target("https://www.lunnick.example/boats"),
    "tags inside a path": _target("/boats"),
    "& in a value": _in_value("&"),
    "& with blanks in a value": _in_value("%20&%20"),
    "an entity in a value": lambda c: _same(
        "html_entity", c.piece("campaign", "utm_campaign=pots%20&amp;%20pans")
    ),
    "an entity of an entity": lambda c: ("html_entity", str(c).replace("&", "&amp;amp;"), str(c)),
    "two question marks": lambda c: ("second_question_mark", str(c).replace("?", "??"), str(c)),
    "an encoded question mark": _encoded_mark,
    "a login": lambda c: _same("login_in_host", str(c).replace("://", "://edda:secret@")),
    "an e-mail address in the path": lambda c: _same("personal_data", c.but(base=SITE + "/u/edda@groups.example")),
    "an e-mail address behind #": lambda c: _same("personal_data", c.but(fragment="#edda%40groups.example")),
    "a number its parameter tells of": lambda c: _same("personal_data", str(Clean(
        c.world, c.base, [*c.pieces, "phone=0855500104"], c.fragment, c.chance
    ))),
    "the beginning of a name mistyped": lambda c: (lambda n: (
        "misspelt_name", c.piece(n, c.pieces[c.at(n)].replace("utm_", c.chance.choice(("utn_", "umt_", "ut_")))), str(c)
    ))(c.tag()),
    "a tag twice, once misspelt": lambda c: _same(
        "misspelt_name", c.piece("medium", "utm_medum=poster", c.pieces[c.at("medium")])
    ),
    "a value in capitals": _case,
    "another sign in a value": _punctuation,
    "letters of a campaign swapped": _typo(_swapped),
    "a letter of a campaign missing": _typo(_dropped),
    "letters of a source swapped": _source_typo,
    "a source that is not allowed": lambda c: _same("not_allowed", c.piece("source", "utm_source=xyxywyxy")),
    "a campaign nobody planned": lambda c: _same("unknown_campaign", c.piece("campaign", "utm_campaign=quixquix")),
    "another language of a campaign": lambda c: _same(
        "unknown_campaign", c.piece("campaign", f"utm_campaign={c.world.campaigns[6][:-2]}es")
    ),
    "a campaign that has ended": lambda c: _same(
        "campaign_ended", c.piece("campaign", f"utm_campaign={c.world.ended}")
    ),
    "another host than its campaign's": lambda c: _same(
        "wrong_host", c.piece("campaign", f"utm_campaign={c.world.elsewhere}")
    ),
    "an e-mail address": _left("personal_data", "edda%40groups.example"),
    "a telephone number": _left("personal_data", "%2B61%208%205550%200104"),
    "a telephone number with two zeros": _left("personal_data", "0061%208%205550%200104"),
    "our own site as a source": lambda c: _same("own_as_outside", c.piece("source", "utm_source=lunnick.example")),
    "another site": _host("foreign_host", "www.lunick"),
    # RFC 3492 section 7.1 gives the encoding; the host is under ours so that only this is found.
    "a host in other letters": _host("international_host", "bücher.lunnick", "xn--bcher-kva.lunnick"),
    "no path": lambda c: ("no_path", c.but(base=SITE), c.but(base=SITE + "/")),
    "too long": lambda c: _same("too_long", c.more("long", "long=" + "x" * 2_100)),
}  # fmt: skip
"""Every kind of fault: how it is planted; gives (code, address, mended address)."""


def planted_faults(number: int = 500, seed: int = TUNED) -> list[Planted]:
    """Addresses with one planted fault each, all kinds in turn."""
    made, chance = world(seed), random.Random(seed + 1)
    out = []
    for i in range(number):
        kind = list(FAULTS)[i % len(FAULTS)]
        code, url, mended = FAULTS[kind](clean(made, chance))
        out.append(Planted(kind, frozenset({code}), url, mended))
    return out
