"""Faults of an address as a whole. What can be mended without a value being lost, or moved from one part of the address
or of one that it holds into another, is; everything else is left as it came, and said."""

from __future__ import annotations

import re
from collections.abc import Callable

from ..base.words import Slots, fold
from ..reading.tags import host_of
from .addresses import has_raw_characters, join_address, without_raw_characters
from .faults import Note

_TAGS_IN = re.compile(r"[?&#](?=utm[_-]?[a-z]+=)", re.IGNORECASE)
_TAGS_IN_PATH = re.compile(r"[&;?/](?=utm[_-]?[a-z]+=)", re.IGNORECASE)
_ENCODED_MARK = re.compile(r"%3F(?=utm[_-]?[a-z]+(?:=|%3D))", re.IGNORECASE)
_PAIR = re.compile(r"&[\w.-]+=[^&/]*")
_SEMICOLON = re.compile(r";(?:amp;)?(?=utm[_-]?[a-z]+=)", re.IGNORECASE)
_SECOND = re.compile(r"\?(?=[A-Za-z][\w.-]*=)")
_ENTITY = re.compile(r"&(?:(?:amp|#38|#x26);)+", re.IGNORECASE)
_ENTITY_BETWEEN = re.compile(_ENTITY.pattern + r"(?=[\w.\-\[\]%]+=)", re.IGNORECASE)
_PARAMETER = re.compile(r"=.*", re.DOTALL)
_TARGET = re.compile(r"=(?:https?(?::|%3A)|/|%2F|www\.)", re.IGNORECASE)


LONGEST_NAME = 200
"""Characters of a parameter's name that anybody knows."""


MOST_ASKED = 200
"""Pairs among which a tag is looked for, to tell a query from a text."""


class Shape:
    """Mends the shape of addresses.

    Parameters
    ----------
    slots : of the workspace; they are left as they are written, since platforms find them by their signs
    is_known : whether a folded name is a tag, a click mark or an own parameter
    """

    def __init__(self, slots: Slots, is_known: Callable[[str], bool]) -> None:
        self._is_known = is_known
        self._kept = re.compile(slots.in_addresses.pattern + "|[{}]")

    def mended(self, text: str, note: Note) -> str:
        """An address in its right shape, as far as that is sure; `note` takes down what is wrong with it."""
        if _ENTITY.search(text):
            why = "&amp; was copied from a page's source: write &, or %26 where it belongs to a value"
            note("html_entity", why, "", _first(_ENTITY, text))
            text = _ENTITY_BETWEEN.sub("&", text)
        front, mark, fragment = text.partition("#")
        if mark and _TAGS_IN.search("#" + fragment):
            note("tags_after_fragment", "tags after # never reach the site: move them before it", "", mark)
            head, _, tail = _split_at_tags(fragment)
            front += ("&" if "?" in front else "?") + tail
            fragment = head
        base, ask, query = self._begun(*front.partition("?"), note)
        if _SEMICOLON.search(query):
            why = "& separates pairs: after ; the rest is part of the value before"
            note("wrong_separator", why, "", _first(_SEMICOLON, query))
            query = _SEMICOLON.sub("&", query)
        if ask:
            query = self._with_one_mark(query, note)
        return self._written(base, query, fragment, note)

    def _begun(self, base: str, ask: str, query: str, note: Note) -> tuple[str, str, str]:
        """The address with a query that begins after a `?`."""
        begins = _TAGS_IN_PATH.search(base, base.find("//") + 2)
        if ask or not (begins or _ENCODED_MARK.search(base)):
            return base, ask, query
        if _ENCODED_MARK.search(base) or begins is None:
            why = "%3F is an encoded ?, so that the tags are part of the path: write ? there"
            note("no_question_mark", why, "", _first(_ENCODED_MARK, base))
            return base, ask, query
        why = "tags begin after a ?: without it they are part of the path"
        note("no_question_mark", why, "", _PARAMETER.sub("", base[begins.start() :]))
        at = begins.start() + (begins.group() == "/")
        # Pairs before them belong into the query as well; from behind, so that each is looked at once.
        while (earlier := base.rfind("&", 0, at)) >= 0 and _PAIR.fullmatch(base, earlier, at):
            at = earlier
        return base[:at], "?", _SEMICOLON.sub("&", base[at:].lstrip("&;?"))

    def _with_one_mark(self, query: str, note: Note) -> str:
        """A query without a further `?` before a parameter that we know; one may stand in a value."""
        rest = query.lstrip("?")
        if rest != query and any(self._knows(piece[:LONGEST_NAME]) for piece in rest.split("&", MOST_ASKED)):
            note("second_question_mark", "an address has one ?: remove the others", "", "??")
            query = rest
        seconds = [m for m in _SECOND.finditer(query) if self._knows(query[m.end() : m.end() + LONGEST_NAME])]
        if not seconds:
            return query
        first = seconds[0].start()
        if _TARGET.search(query, query.rfind("&", 0, first) + 1, first):
            name = query[query.rfind("&", 0, first) + 1 : first].partition("=")[0]
            text = f"{name} holds another address that is not encoded, so nobody can tell whose tags they are: "
            text += "write its ? as %3F, its & as %26 and its = as %3D, or the tags before it"
            note("target_inside", text, name, name)
            return query
        said = _PARAMETER.sub("", query[first:])
        note("second_question_mark", "an address has one ?: write & before the later pairs", "", said)
        return _SECOND.sub("&", query)

    def _knows(self, rest: str) -> bool:
        return self._is_known(fold(rest.partition("&")[0].partition("=")[0]))

    def _written(self, base: str, query: str, fragment: str, note: Note) -> str:
        """The address with what must be encoded encoded, its slots as they came."""
        # An international host name is spoken of elsewhere.
        checked = self._kept.sub("", base.replace(host_of(base), "", 1) + "\n" + query + "\n" + fragment)
        raw = next((c for c in checked if c not in "<>\n" and has_raw_characters(c)), "")
        if raw:
            why = f"{raw!r} must be percent-encoded: some programs cut the address there"
            note("raw_character", why, "", raw)
        scheme, slashes, rest = base.partition("//")
        authority, slash, path = rest.partition("/")
        base = scheme + slashes + authority + slash + self._encoded(path) if slashes else self._encoded(base)
        return join_address(base, self._encoded(query), self._encoded(fragment), has_fragment=bool(fragment))

    def _encoded(self, text: str) -> str:
        if not has_raw_characters(text):
            return text
        out, at = [], 0
        for slot in self._kept.finditer(text):
            out += [without_raw_characters(text[at : slot.start()]), slot.group()]
            at = slot.end()
        return "".join([*out, without_raw_characters(text[at:])])


def _first(pattern: re.Pattern[str], text: str) -> str:
    found = pattern.search(text)
    return found.group() if found else ""


def _split_at_tags(fragment: str) -> tuple[str, str, str]:
    """A fragment as (what stays, separator, the pairs that belong into the query)."""
    match = _TAGS_IN.search("#" + fragment)
    assert match is not None
    at, ask = max(0, match.start() - 1), fragment.find("?")
    # The pairs before the tags belong to them, but for the route of a page that keeps its own in the fragment.
    if 0 <= ask < at and not fragment.startswith(("/", "!")):
        at = ask
    head, rest = fragment[:at], fragment[at:]
    return head, rest[:1], rest.lstrip("?&")
