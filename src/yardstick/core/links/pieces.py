"""One `name=value` of a query: what is wrong with it alone, and how it should be written."""

from __future__ import annotations

import re
from collections.abc import Callable, Collection
from typing import NamedTuple

from ..base.words import Slots, collapse, fold
from ..plan.linking_phase import Dialect
from ..reading.tags import FIELDS, INSIDE, UNFILLED, parameters, read_value
from .addresses import LinkFinding, encode, has_broken_percents, without_broken_percents
from .faults import CODES
from .nearness import bare, distance
from .personal_data import is_personal

HELD = "zyqslot"
"""Stands in a pattern in the place of a slot that is yet to be filled, with its number."""
TAG_NAMES = tuple(f"utm_{name}" for name in FIELDS)
_ESCAPE = re.compile(r"%[0-9A-Fa-f]{2}")
_HIGH = re.compile(r"%[89A-Fa-f][0-9A-Fa-f]")
_LIKE_TAG = re.compile(r"utm", re.IGNORECASE)
_PREFIXED = re.compile(r"([a-z]{2,4})[_.-]?(source|medium|campaign|term|content)")
_NO_EQUALS = re.compile(r"utm[_-]?(?:source|medium|campaign|term|content|id)(?:[:=]|\s)\s*\S", re.IGNORECASE)
_SUSPECT = re.compile(
    r"@|%40|%2B\d|=\+\d|00[1-9]\d|utm|source=|medium=|campaign=|term=|content=|%25[0-9A-Fa-f]{2}|;"
    r"|phone|tel|mobil|movil|cell|handy|msisdn|fax|gsm",
    re.IGNORECASE,
)
_SPACES = ("+", "%20", "%09", "%c2%a0")
_PLACEHOLDERS = frozenset({"null", "undefined", "nan", "(not set)", "(none)", "(direct)", "(not provided)", "(other)"})
_UNDERSCORED = re.compile(r"__[A-Z][A-Z0-9_.]*__")


class Piece(NamedTuple):
    """One `name=value` as read, and what is wrong with it alone.

    Attributes
    ----------
    text : as it should be written; None = leave it out, nothing stands in it
    key : the folded name, where it is a tag, a click mark or an own parameter
    value : decoded
    findings : in the order in which they were found
    came : as it came, where its name is another one now
    """

    text: str | None
    key: str
    value: str
    findings: tuple[LinkFinding, ...] = ()
    came: str = ""


class PieceReader:
    """Reads pieces of queries.

    Parameters
    ----------
    slots, dialects : of the workspace
    marks, extras : folded names of click marks, and of own parameters
    written : own parameters and click marks as the plan writes them
    value_of : what is wrong with the value of a tag by what is known, and what it should be
    """

    def __init__(
        self,
        slots: Slots,
        dialects: Collection[Dialect],
        marks: Collection[str],
        extras: Collection[str],
        written: Collection[str],
        value_of: Callable[[str, str, Callable[..., None]], str],
    ) -> None:
        self._slots, self._marks, self._extras, self._written = slots, marks, extras, written
        self._value_of = value_of
        self._signs: dict[tuple[str, str], set[str]] = {}
        for dialect in dialects:
            if dialect.slots:
                names = {slot.name for slot in dialect.slots} | {dialect.landing}
                self._signs.setdefault((dialect.opens, dialect.closes), set()).update(names)

    def read(self, text: str) -> Piece:
        """One piece."""
        raw_name, equals, raw = text.partition("=")
        key = raw_name if raw_name in TAG_NAMES else fold(raw_name)
        is_ours = key in self._marks or key in self._extras
        if not is_ours and not _SUSPECT.search(text) and not has_broken_percents(text):
            return Piece(text, "", "")
        findings: list[LinkFinding] = []

        def note(code: str, message: str, value: str = "") -> None:
            findings.append(LinkFinding(code, CODES[code], message, key, value))

        name, decoded, _ = (parameters(text) or [("", "", "")])[0]
        if not decoded and _NO_EQUALS.match(name):
            tag = re.match(r"[\w-]+", name)
            key = tag.group() if tag else ""
            note("no_equals", f"there is no = between {key} and its value, so that it has none: write {key}=...", name)
            return Piece(text, "", "", tuple(findings))
        counts, slot = read_value(decoded, raw, self._slots)
        held = HELD in raw
        if not slot and not held:
            name, raw, decoded = self._decoded(raw_name, raw, note)
            counts = collapse(decoded)
        key = fold(name)
        meant, sure = self._meant_name(key)
        if sure:
            note("misspelt_name", f"{name} is not a tag: {meant} was meant", name)
            key = name = meant
        elif meant:
            note("perhaps_meant", f"{name} is kept as a tag of its own: write {meant} if that was meant", name)
        value = collapse(decoded)
        if not slot and not held and is_personal(key, value, raw):
            note("personal_data", f"{key} carries personal data: remove it before anybody sees it", value)
            return Piece(text, key if key.startswith("utm_") else "", value, tuple(findings), text)
        if not key.startswith("utm_") and not is_ours:
            same = raw == text.partition("=")[2]
            return Piece(text if same else f"{raw_name}{equals}{raw}", "", value, tuple(findings))
        if name != key and name not in self._written:
            note("wrong_case_name", f"{name} is written {key}: other programs may not read it", name)
            name = key
        came = text if sure else ""
        if slot == UNFILLED:
            shown = raw if self._slots.is_slot("", raw) else value
            note("unfilled_slot", f"{key} holds {shown}, a slot that nobody filled: it is read as empty", shown)
            self._unknown_slots(raw, value, note)
            return Piece(self._named(name, raw_name, equals, raw, text), key, "", tuple(findings), came)
        if not counts:
            if key.startswith("utm_"):
                note("empty_value", f"{key} is empty: fill it or remove it")
            return Piece(None if key.startswith("utm_") else text, key, "", tuple(findings), came)
        if slot == INSIDE:
            note("slot_inside", f"{key} holds a slot inside {raw}: make sure that it is filled", raw)
            self._unknown_slots(raw, value, note)
        elif not held:
            self._half_slots(raw, value, note)
        if (key.startswith("utm_") and fold(value) in _PLACEHOLDERS) or _UNDERSCORED.fullmatch(value):
            note("placeholder", f"{key} holds {value}, which means nothing: fill it or remove it", value)
            return Piece(self._named(name, raw_name, equals, raw, text), key, value, tuple(findings), came)
        trimmed = _without_edges(raw)
        if trimmed != raw and not slot and not held:
            note("edge_space", f"{key} begins or ends with a space, which is read as none: remove it", value)
            raw = trimmed
        mended = value
        if key.startswith("utm_") and not slot and not held:
            mended = self._value_of(key.removeprefix("utm_"), value, note)
        written = raw if mended == value else encode(mended)
        return Piece(self._named(name, raw_name, equals, written, text), key, mended, tuple(findings), came)

    @staticmethod
    def _named(name: str, raw_name: str, equals: str, raw: str, text: str) -> str:
        """A piece under its right name; one whose name is right keeps its bytes."""
        same = parameters(f"{raw_name}=")[0][0] == name if raw_name else not name
        out = f"{raw_name if same else name}{equals}{raw}"
        return text if out == text else out

    def _meant_name(self, key: str) -> tuple[str, bool]:
        """The tag that a name was meant to be, and whether that is sure; empty for a tag, and for one of its own."""
        if key in TAG_NAMES or key in self._extras or key in self._marks:
            return "", False
        if _LIKE_TAG.match(key):
            return _meant_tag(key)
        found = _PREFIXED.fullmatch(key)
        if found is None or distance(found.group(1), "utm", 1) > 1:
            return "", False
        # Another first letter may be a beginning of one's own.
        begins = found.group(1)
        return f"utm_{found.group(2)}", begins[0] == "u" or sorted(begins) == sorted("utm")

    def _unknown_slots(self, raw: str, value: str, note: Callable[..., None]) -> None:
        """Slots in the signs of a dialect that the platform does not know: it fills none of them."""
        for (opens, closes), names in self._signs.items():
            inside = re.compile(re.escape(opens) + r"([\w .:-]+?)" + re.escape(closes))
            for said in dict.fromkeys([*inside.findall(value), *inside.findall(raw)]):
                if said not in names and not any(
                    said in others for signs, others in self._signs.items() if signs != (opens, closes)
                ):
                    note("unknown_slot", f"{opens}{said}{closes} is not a slot of its dialect: check it", said)

    def _half_slots(self, raw: str, value: str, note: Callable[..., None]) -> None:
        """A sign that begins or ends a slot, without the other."""
        signs = {sign for pair in self._signs for sign in pair if len(sign) > 1}
        half = next((s for s in sorted({"{", "}", "(:", ":)", *signs}) if s in value or s in raw), "")
        if half:
            note("half_slot", f"{half} in {value} begins or ends a slot that has no other side: check it", value)

    @staticmethod
    def _decoded(raw_name: str, raw: str, note: Callable[..., None]) -> tuple[str, str, str]:
        """Name, raw value and decoded value of a piece, its escapes mended."""
        if has_broken_percents(raw):
            note("bad_encoding", f"% in {raw} begins no escape: write %25", raw)
            raw = without_broken_percents(raw)
        name, decoded, _ = (parameters(f"{raw_name}={raw}") or [("", "", "")])[0]
        if "\ufffd" in decoded and "%EF%BF%BD" not in raw.upper():
            note("bad_encoding", f"{raw} is not UTF-8: it would be read as {decoded}", decoded)
            latin = _HIGH.sub(lambda m: encode(bytes([int(m.group()[1:], 16)]).decode("latin-1")), raw)
            raw, decoded = latin, parameters(f"x={latin}")[0][1]
        if fold(name).startswith("utm") and _was_encoded(decoded):
            once = parameters(f"x={decoded}")[0][1]
            if "\ufffd" not in once:
                note("doubly_encoded", f"{raw} is encoded twice: reports would show {decoded}", decoded)
                decoded, raw = once, encode(once)
        read = _as_meant(decoded) if fold(name).startswith("utm") else decoded
        if read != decoded:
            note("mojibake", f"{decoded} was read in another encoding once: {read} was meant", decoded)
            decoded, raw = read, encode(read)
        return name, raw, decoded


def _without_edges(raw: str) -> str:
    """An undecoded value without spaces before and behind it."""
    low, first, last = raw.lower(), 0, len(raw)
    while first < last and (space := next((s for s in _SPACES if low.startswith(s, first, last)), "")):
        first += len(space)
    while first < last and (space := next((s for s in _SPACES if low.endswith(s, first, last)), "")):
        last -= len(space)
    return raw[first:last]


def _as_meant(text: str) -> str:
    """A text whose UTF-8 was once read as Windows-1252, as it was before; every other text as it is."""
    if text.isascii():
        return text
    try:
        meant = text.encode("cp1252").decode("utf-8")
    except UnicodeError:
        return text
    return meant if meant.isprintable() else text


def _meant_tag(key: str) -> tuple[str, bool]:
    """The tag that a name beginning like one was meant to be, and whether that is sure; empty for a tag of its own."""
    letters = bare(key)
    for name in TAG_NAMES:
        tag = bare(name)
        most = 0 if len(name) < 8 else 1 if len(name) < 10 else 2
        off = distance(letters, tag, most)
        if off <= most:
            # A letter in the place of another makes another word too easily where a tag is short: team, term.
            other_word = off == 1 and len(letters) == len(tag) and sorted(letters) != sorted(tag)
            return name, not (other_word and len(name) < 10)
    return "", False


def _was_encoded(decoded: str) -> bool:
    """Whether a decoded value is still encoded: it has escapes, and none of a character that no program encodes
    (RFC 3986, 2.3: letters, digits, - . _ ~)."""
    escaped = [chr(int(escape[1:], 16)) for escape in _ESCAPE.findall(decoded)]
    return bool(escaped) and not any(c.isascii() and (c.isalnum() or c in "-._~") for c in escaped)
