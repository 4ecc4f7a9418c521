"""ReadAddress the address of a visit (R1, R4): its tags, its click mark, its hosts."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from urllib.parse import unquote_plus, urlsplit

from ..base.identifiers import usable
from ..base.words import SLOTS, Slots, collapse, fold

FIELDS = ("source", "medium", "campaign", "term", "content", "id")
"""The six tag fields, `utm_` left out, in the order in which captured sets carry them."""
EXTRA = "extra:"
"""Begins the name of an extra value where it could be taken for a field."""
_NAMES = {f"utm_{name}": name for name in FIELDS}
_SCHEME = re.compile(r"[A-Za-z][A-Za-z0-9+.-]*:")
_BAD_HOST = re.compile(r"[\s\x00-\x20\x7f\"<>^`{|}\\]")


@dataclass(frozen=True)
class ReadAddress:
    """What one address says.

    Attributes
    ----------
    tags : the six fields in the order of `FIELDS`, trimmed, empty where unfilled
    extras : other `utm_*` parameters as (name, value), sorted by name
    named : extra values, other parameters that the user named, as (name, value), sorted by name
    own_tags : those of `named` that count as tags (R1)
    mark : click mark, empty if none; a value that is no identifier is none (R5, R6)
    host : landing host in lower case, empty for a path
    page : the address without query and fragment
    notes : (code, field, value) of what should be known about this address
    stated : parameters that stand in it, of those that conditions ask for: (folded name, value)
    mark_name : folded name of the parameter that carries the mark, empty without one
    """

    tags: tuple[str, ...]
    extras: tuple[tuple[str, str], ...]
    named: tuple[tuple[str, str], ...]
    own_tags: tuple[tuple[str, str], ...]
    mark: str
    host: str
    page: str
    notes: tuple[tuple[str, str, str], ...]
    stated: tuple[tuple[str, str], ...] = ()
    mark_name: str = ""

    @property
    def tagged(self) -> bool:
        """Whether any tag, extra tags and the user's own among them, has a value."""
        return any(self.tags) or bool(self.extras) or bool(self.own_tags)

    def values(self) -> dict[str, str]:
        """Every value by field, or by the name of its parameter; one named like a field as `extra:NAME` (R1)."""
        named = {beside_fields(name): value for name, value in self.named}
        return dict(zip(FIELDS, self.tags, strict=True)) | dict(self.extras) | named


def parameter_of(name: str) -> str:
    """The parameter that carries a tag: one of the six fields goes by its `utm_` name."""
    return f"utm_{name}" if name in FIELDS else name


def beside_fields(name: str) -> str:
    """The name of an extra value, so written that it is never taken for one of the six fields (R1)."""
    return EXTRA + name if fold(name) in FIELDS else name


def why_not_an_address(url: str) -> str:
    """Why R1 does not accept an address, with what to do; empty where it does.

    Accepted are an http(s) address with a host, or a path that starts with `/`.
    """
    text = url.strip()
    if text.startswith("/"):
        return ""
    scheme = _SCHEME.match(text)
    if not scheme:
        return "not an address: begin it with http:// or https://, or with / for a path"
    if scheme.group().lower() not in ("http:", "https:"):
        return f"an address beginning with {scheme.group()} is not a web page: use http:// or https://"
    host = host_of(text)
    if not host:
        return "the address has no host: write it as https://host/path"
    if _BAD_HOST.search(host) or not _splits(text):
        return f"the host {host!r} of the address is broken: correct it"
    return ""


def _splits(text: str) -> bool:
    try:
        urlsplit(text)
    except ValueError:
        return False
    return True


def host_of(address: str) -> str:
    """Host of an address in lower case, without user, port or closing dot; empty if none can be read.

    Examples
    --------
    >>> host_of("https://www.Lunnick.example:8080/night?x=1")
    'www.lunnick.example'
    """
    text = address.strip()
    scheme = _SCHEME.match(text)
    rest = text[scheme.end() :] if scheme else text
    if not rest.startswith("//"):
        return ""
    authority = re.split(r"[/?#]", rest[2:], maxsplit=1)[0]
    host = authority.rpartition("@")[2]
    host = host.partition("]")[0] + "]" if host.startswith("[") else host.partition(":")[0]
    return host.lower().rstrip(".")


def split_address(url: str) -> tuple[str, str, str]:
    """An address as (base, query, fragment), the separators left out and no byte changed.

    Examples
    --------
    >>> split_address("https://lunnick.example/night?utm_source=a&b=c#top")
    ('https://lunnick.example/night', 'utm_source=a&b=c', 'top')
    """
    front, _, fragment = url.partition("#")
    base, _, query = front.partition("?")
    return base, query, fragment


def parameters(query: str) -> list[tuple[str, str, str]]:
    """The query as (name, value, undecoded value), read as `application/x-www-form-urlencoded`.

    Notes
    -----
    WHATWG URL Standard, section "application/x-www-form-urlencoded parsing": `+` is a space, percent escapes are
    UTF-8, invalid bytes become U+FFFD, only `&` separates.

    Examples
    --------
    >>> parameters("utm_source=Quorrin+Ads&utm_term=a%26b")
    [('utm_source', 'Quorrin Ads', 'Quorrin+Ads'), ('utm_term', 'a&b', 'a%26b')]
    """
    out = []
    for piece in query.split("&"):
        if piece:
            name, _, raw = piece.partition("=")
            out.append((unquote_plus(name, errors="replace"), unquote_plus(raw, errors="replace"), raw))
    return out


UNFILLED, INSIDE = "unfilled_slot", "slot_inside"


def read_value(value: str, raw: str, slots: Slots = SLOTS) -> tuple[str, str]:
    """What one value says, for visits and for the check-up of links alike (R1, R4).

    Parameters
    ----------
    value, raw : decoded and as it stands in the address
    slots : tells unfilled slots

    Returns
    -------
    tuple
        (the value as it counts, empty where it was never filled; `UNFILLED` or `INSIDE` where a slot stands there)
    """
    clean = collapse(value)
    if slots.is_slot(clean, raw):
        return "", UNFILLED
    return clean, INSIDE if slots.has_slot(clean, raw) else ""


def reader(
    click_marks: Iterable[str],
    extra_values: Iterable[str] = (),
    slots: Slots = SLOTS,
    tag_parameters: Iterable[str] = (),
    watched: Iterable[str] = (),
) -> Callable[[str], ReadAddress]:
    """A function that reads addresses, knowing which parameters carry a click mark or an extra value.

    Parameters
    ----------
    click_marks : parameter names, matched without regard to case; of several in one address the first named whose value
        is an identifier holds
    extra_values : names of other parameters to keep, matched likewise, kept under the name as written here
    slots : tells unfilled slots
    tag_parameters : names of extra values that count as tags (R1)
    watched : folded names of parameters that conditions ask for
    """
    marks = [fold(name) for name in click_marks]
    tagging = list(tag_parameters)
    wanted = {fold(name): name.strip() for name in (*tagging, *extra_values)}
    asked, own = set(watched), {fold(name) for name in tagging}
    named = {*_NAMES, *marks, *wanted}

    def read(url: str) -> ReadAddress:
        base, query, _ = split_address(url.strip())
        values: dict[str, str] = {}
        seen: set[str] = set()
        notes: list[tuple[str, str, str]] = []
        for name, value, raw in parameters(query):
            key = fold(name)
            if not key.startswith("utm_") and key not in named and key not in asked:
                continue
            if name != key and key in named and name != wanted.get(key):
                notes.append(("wrong_case_name", key, name))
            if key in seen:
                notes.append(("repeated_name", key, value))
            seen.add(key)
            clean, slot = read_value(value, raw, slots)
            if slot:
                # Percent signs are shown as they stood: decoded they may be nobody's.
                shown = raw if slots.is_slot("", raw) or "\ufffd" in value else collapse(value)
                notes.append((slot, key, shown))
            if clean and not values.get(key):
                values[key] = clean
        stated = tuple((key, values.get(key, "")) for key in sorted(seen & asked))
        tags = tuple(values.pop(name, "") for name in _NAMES)
        mark_name = next((m for m in marks if usable(values.get(m, ""))), "")
        mark = values.get(mark_name, "")
        left = sorted((k, v) for k, v in values.items() if k not in marks and (k in wanted or k.startswith("utm_")))
        extras = tuple((k, v) for k, v in left if k.startswith("utm_"))
        values_kept = tuple((wanted[k], v) for k, v in left if not k.startswith("utm_"))
        own_tags = tuple((wanted[k], v) for k, v in left if k in own and not k.startswith("utm_"))
        return ReadAddress(
            tags, extras, values_kept, own_tags, mark, host_of(base), base, tuple(notes), stated, mark_name
        )

    return read
