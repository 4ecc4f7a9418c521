"""Names and words as they are compared: without case, accents and signs."""

from __future__ import annotations

import unicodedata
from functools import lru_cache

from yardstick.core.base.words import fold

LONGEST = 400
"""Characters of a name that are looked at."""
_PAIRS = {"(": ")", "[": "]"}


@lru_cache(maxsize=20_000)
def plain_words(text: str) -> str:
    """A name without case, accents, signs and what stands in brackets. Takes time in proportion to the name."""
    text = "".join(c for c in unicodedata.normalize("NFKD", _outside(fold(text[:LONGEST])))) if text else ""
    kept = "".join(" " if not (c.isalnum() or c == "'") else c for c in text if not unicodedata.combining(c))
    return " ".join(kept.replace("ß", "ss").replace("'", " ").split())


def _outside(text: str) -> str:
    """A text with a blank in place of each bracket that is closed again, and of what stands in it."""
    out: list[str] = []
    i = 0
    while i < len(text):
        end = text.find(_PAIRS[text[i]], i) if text[i] in _PAIRS else -1
        if text[i] in _PAIRS and end < 0:
            # No later one is closed either: nothing is looked for again.
            out.append(text[i:].replace("(", " ").replace("[", " "))
            break
        out.append(" " if end >= 0 else text[i])
        i = end + 1 if end >= 0 else i + 1
    return "".join(out)
