"""In which encoding a text that is no UTF-8 may be: those in which it reads as words, the likeliest first.

Candidates come from a kept library (charset-normalizer) and from a list of what exports are written in; they are ranked
by how much of the text would be signs inside words, scripts mixed in one word, or letters that nobody writes.
"""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

from ..cells.column_words import WORDS
from ..cells.plain_words import plain_words
from .encodings import is_encoding

LOOKED_AT = 1 << 15
"""Bytes of lines with other signs than ASCII that are looked at."""
_LISTED = (
    "windows-1252 windows-1250 windows-1251 iso-8859-2 iso-8859-15 mac-roman cp850 windows-1254 windows-1253 "
    "windows-1257 windows-1255 windows-1256 cp852 cp437 cp866 koi8-r mac-latin2 mac-cyrillic iso-8859-5 shift_jis "
    "euc_jp gb18030 euc_kr big5"
)
USUAL = tuple(_LISTED.split(" "))
MOST = 5
_NOT = ("utf", "johab", "shift_jis_2004", "shift_jisx", "euc_jis", "hz", "iso2022")
"""What is told by itself, is written by nobody, or differs from another in signs that no export has."""
_CLOSE = 0.12
_QUOTES = "‘’“”„‚–—…«»°№·ºª€£¥§¿¡"
_LATIN = re.compile(r"[^\W\d_]+")


@dataclass(frozen=True)
class Candidate:
    """An encoding, what the text is in it, and how badly it reads (0 = well)."""

    name: str
    text: str
    badness: float


def candidates(head: bytes) -> list[Candidate]:
    """Encodings in which some bytes may be text, the likeliest first; of those that give one text the first alone.

    Parameters
    ----------
    head : how a file that is no UTF-8 begins
    """
    sample = _telling(head)
    found: dict[str, Candidate] = {}
    for place, name in enumerate(_named(sample)):
        try:
            text = sample.decode(name)
        except (UnicodeDecodeError, LookupError):
            continue
        if text not in found:
            found[text] = Candidate(name, text, _badness(text, len(sample), name) + place * 0.002)
    return sorted(found.values(), key=lambda c: c.badness)[:MOST]


def is_close(best: Candidate, other: Candidate) -> bool:
    """Whether another reading is about as likely."""
    return other.badness - best.badness < _CLOSE


def first_changes(best: Candidate, others: Sequence[Candidate], most: int = 3) -> list[str]:
    """Under each candidate the first words that read otherwise under another."""
    split = [re.split(r"[;,\t|\r\n]", one.text) for one in [best, *others]]
    width = min(len(cells) for cells in split)
    changed = [i for i in range(width) if len({cells[i] for cells in split}) > 1]
    chosen = sorted(dict.fromkeys(changed), key=int)[: most * 4]
    out = []
    for cells in split:
        shown = list(dict.fromkeys(cells[i].strip().strip('"')[:30] for i in chosen if cells[i].strip()))
        out.append(", ".join(shown[:most]))
    return out


def _telling(head: bytes) -> bytes:
    """The first line, which names columns, and lines with other signs than ASCII."""
    lines = head.split(b"\n")[:-1] or [head]
    out, size = [lines[0]], len(lines[0])
    for line in lines[1:]:
        if not line.isascii():
            out.append(line)
            size += len(line)
            if size > LOOKED_AT:
                break
    return b"\n".join(out)[: 4 * LOOKED_AT]


def _named(sample: bytes) -> list[str]:
    from charset_normalizer import from_bytes  # only for files that are no UTF-8

    names = list(USUAL)
    for match in list(from_bytes(sample[:LOOKED_AT], threshold=0.3))[:4]:
        name = match.encoding.replace("_", "-") if match.encoding.startswith("iso") else match.encoding
        if is_encoding(name) and not name.startswith(_NOT) and not any(_same(name, known) for known in names):
            names.append(name)
    return names


def _same(a: str, b: str) -> bool:
    import codecs

    try:
        return codecs.lookup(a).name == codecs.lookup(b).name
    except LookupError:
        return False


@lru_cache(maxsize=1)
def _known_words() -> frozenset[str]:
    phrases = [phrase for columns in WORDS.values() for words in columns.values() for phrase in words.split("|")]
    return frozenset(word for phrase in phrases for word in phrase.split() if len(word) > 2)


def _badness(text: str, size: int, name: str) -> float:
    bad, signs = 0.0, 0
    for word in set(re.split(r"[\s;,\t|\"]+", text)):
        if word.isascii():
            continue
        others = [c for c in word if not c.isascii()]
        signs += len(others)
        bad += sum(_oddness(c, name) for c in others)
        scripts = {_script(c) for c in word if c.isalpha()}
        if len(scripts - {"other"}) > 1:
            bad += 2.0
        for a, b, c in zip(word, word[1:], f"{word[2:]} ", strict=False):
            if b.isascii() and a.isascii():
                continue
            if a.islower() and b.isupper():
                bad += 1.5
            elif a.isupper() and b.isupper() and c.islower() and not b.isascii():
                bad += 0.7
            elif a.isalpha() and c.isalpha() and not b.isalnum() and b not in "’'-–.":
                bad += 1.5
    known = _known_words()
    lines = text.split("\n")
    header = {
        w
        for cell in re.split(r"[;,\t|]", lines[0] if lines else "")
        if not cell.isascii()
        for w in plain_words(cell).split()
    }
    bad -= 1.5 * sum(word in known for word in header)
    return bad / max(1, signs)


def _oddness(char: str, name: str) -> float:
    kind = unicodedata.category(char)
    if char in _QUOTES or char in "\u00a0\u202f":
        return 0.15
    if "\uff61" <= char <= "\uff9f":
        return 0.9
    if "\u4e00" <= char <= "\u9fff":
        return 0.05 if _is_common(char, name) else 0.9
    if "\u3040" <= char <= "\u30ff" or "\uac00" <= char <= "\ud7a3":
        return -0.1
    if kind.startswith("L"):
        return 0.0 if char.lower() in _COMMON else 0.35
    return 0.2 if kind == "Sc" else 1.2


_COMMON = (
    frozenset("äöüßéèêëàâçîïôûùœæøåñáíóúãõìòýčďěňřšťůžłąęćńśźżőűăâîșțşţğı")
    | frozenset("абвгдежзийклмнопрстуфхцчшщъыьэюяёіїєґ")
    | frozenset("αβγδεζηθικλμνξοπρστυφχψωςάέήίόύώ")
    | frozenset("אבגדהוזחטיכלמנסעפצקרשתךםןףץابتثجحخدذرزسشصضطظعغفقكلمنهويةىءآأإ")
)


def _is_common(char: str, name: str) -> bool:
    """Whether an ideograph is in the first, common part of the standard that an encoding goes by."""
    try:
        lead = char.encode(
            {"shift_jis": "shift_jis", "euc_jp": "shift_jis", "big5": "big5", "euc_kr": "euc_kr"}.get(name, "gb2312")
        )[0]
    except UnicodeEncodeError:
        return False
    if name in ("shift_jis", "euc_jp"):
        return 0x88 <= lead <= 0x98
    return 0xA4 <= lead <= 0xC6 if name == "big5" else name != "euc_kr" and 0xB0 <= lead <= 0xD7


def _script(char: str) -> str:
    if char.isascii() or char.lower() in "ªº":
        return "latin"
    try:
        first = unicodedata.name(char).split(" ")[0].lower()
    except ValueError:
        return "other"
    return (
        "east"
        if first in ("cjk", "hiragana", "katakana", "hangul")
        else first
        if first in ("latin", "cyrillic", "greek", "hebrew", "arabic")
        else "other"
    )
