"""How well a column's name says that it is a certain column of a table."""

from __future__ import annotations

from functools import lru_cache

from yardstick.core.base.schema import SCHEMA

from ..cells.cells import is_currency
from ..cells.column_words import PARTS, WORDS
from ..cells.plain_words import plain_words

EXACT = 12
OF_AN_AD = ("name", "title", "id", "key", "label", "text", "headline", "creative", "copy")
"""What an ad's own column may say behind *ad*."""
BESIDE_ADS = (
    *("account", "platform", "network", "spend", "cost", "type", "state", "status", "level", "format", "size", "url"),
    *("campaign", "clicks", "impressions", "budget", "date", "day", "schedule", "relevance", "currency"),
)
"""What behind *ad* is neither an ad nor a group of them."""


def _gathers_ads(tokens: list[str]) -> bool:
    """Whether a name says that ads are gathered under it, by whatever word of the trade: a group, never an ad."""
    more = tokens[tokens.index("ad") + 1 :] if "ad" in tokens else []
    return bool(more) and more[0] not in (*OF_AN_AD, *BESIDE_ADS)


def phrases_of(table: str, column: str) -> str:
    """What a column of a table is called, phrases between bars."""
    own = next((c.called for c in SCHEMA[table] if c.name == column), column).replace("_", " ")
    return f"{own}|{WORDS[table].get(column, own)}"


@lru_cache(maxsize=50_000)
def score(name: str, phrases: str) -> int:
    """How well a column's name says what phrases between bars say: 12 where it is one, less where it has one in it."""
    words = plain_words(name)
    best, tokens = 0, words.split()
    stripped = " ".join(t for t in tokens if not is_currency(t.upper()))
    for phrase in phrases.split("|"):
        plain = phrase.strip() if phrase.isascii() else plain_words(phrase)
        if words == plain or stripped == plain:
            return EXACT
        if plain == "ad" and ("ad" in tokens[:-1]) and tokens[tokens.index("ad") + 1] not in OF_AN_AD:
            continue
        if plain and f" {plain} " in f" {words} ":
            best = max(best, 4 + len(plain.split()))
        elif len(tokens) > 1 and f" {words} " in f" {plain} ":
            best = max(best, 3)
    return best


def column_score(name: str, table: str, column: str) -> int:
    """How well a name says that it is a column of a table: by phrases, else by parts of its words."""
    found = score(name, phrases_of(table, column))
    if column == "ad_group" and found < EXACT and _gathers_ads(plain_words(name).split()):
        return max(found, 6)
    if found or column not in PARTS.get(table, {}):
        return found
    begins, ends = PARTS[table][column]
    tokens = plain_words(name).split()
    begun = not begins or any(t.startswith(begins) for t in tokens)
    ended = not ends or any(t.endswith(e) and (len(t) > len(e) or len(tokens) > 1) for t in tokens for e in ends)
    return 4 if tokens and begun and ended else 0
