"""The check-up of tagged addresses: what will go wrong with a link, and the address that will not.

What nobody can have meant is mended. Where a value would be lost by it, or moved to where it was not meant, the address
is left as it came, and it is asked. Addresses are read piece by piece, and every distinct piece once: in a long list
most pieces repeat.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping
from dataclasses import replace
from datetime import date
from urllib.parse import unquote

from ..base.words import Slots, fold
from ..plan.plan import Plan
from ..reading.hosts import host_matcher
from ..reading.tags import host_of, parameter_of, split_address
from .addresses import (
    LONGEST_BYTES,
    as_browsers_read,
    join_address,
    too_long,
    why_not_opened,
    with_ascii_host,
    with_path,
)
from .checked_link import CheckDraft, CheckUp
from .checked_query import QueryCheck
from .checked_values import ValueCheck
from .personal_data import has_email
from .pieces import HELD, Piece, PieceReader
from .shape import Shape

_CLEAN = re.compile(r"https?://[a-z0-9.-]+(?::\d+)?/[A-Za-z0-9/._~-]*\?[A-Za-z0-9=&._~+%-]*(?:#[A-Za-z0-9._~/-]*)?")
_IS_HELD = re.compile(HELD + r"(\d+)z")
KEPT_PIECES = 200_000
_NOBODYS = "https://app.invalid/"
"""In the place of the scheme of an app."""


class Checker:
    """Checks addresses against the plan of a workspace.

    Parameters
    ----------
    plan : allowed words, naming patterns, hosts, click marks, dialects, and the campaigns links may name; without any,
        every campaign will do
    known : further known values per field: those of the link sheet
    arrived : values per field with which so many visits came that they are names
    today : campaigns that ended before are a finding; None = no campaign has ended
    limit : bytes an address may have
    """

    def __init__(
        self,
        plan: Plan | None = None,
        known: Mapping[str, Iterable[str]] | None = None,
        today: date | None = None,
        limit: int = LONGEST_BYTES,
        arrived: Mapping[str, Iterable[str]] | None = None,
    ) -> None:
        self._plan = plan or Plan()
        self._reading = reading = self._plan.reading
        self._slots = Slots(reading.slot_pairs)
        self._limit = limit
        self._marks = {fold(mark) for mark in reading.click_marks}
        self._extras = {fold(name) for name in (*reading.extra_values, *reading.tag_parameters)}
        self._required = {name: fold(parameter_of(name)) for name in reading.required_tags}
        self._own = host_matcher(reading.own_hosts)
        self._own_seen: dict[str, bool] = {}
        self._opened: dict[str, bool] = {}
        self._have_hosts = any(c.host for c in self._plan.campaigns)
        self._pieces: dict[str, Piece] = {}
        written = (*reading.extra_values, *reading.tag_parameters, *reading.click_marks)
        self._shape = Shape(self._slots, lambda n: n.startswith("utm") or n in self._marks or n in self._extras)
        values = ValueCheck(self._plan, known or {}, arrived or {}, today, self._own)
        self._reader = PieceReader(
            self._slots, self._plan.linking.dialects, self._marks, self._extras, set(written), values.mended
        )
        self._query = QueryCheck(self._plan, self._piece, self._required)
        self._schemes = {fold(store.scheme) for store in self._plan.linking.stores if store.scheme}

    def check(self, url: str, *, pattern: bool = False) -> CheckUp:
        """Check one address.

        Parameters
        ----------
        url : as it came
        pattern : it is one of an ad platform's, whose slots are yet to be filled: they are left alone
        """
        if pattern:
            return self._of_pattern(url)
        if self._schemes and fold(url.strip().partition(":")[0]) in self._schemes:
            return self._of_app(url)
        front = url.partition("#")[0]
        if _CLEAN.fullmatch(url) and front.count("?") == 1 and len(url) <= self._limit and self._opens(front):
            base, _, query = front.partition("?")
            keys, known = [], self._pieces
            for text in query.split("&"):
                piece = known.get(text) or self._piece(text)
                if piece.findings or "=" not in text:
                    break
                if piece.key:
                    keys.append(piece.key)
            else:
                if self._all_well(keys, base):
                    return CheckUp(url, (), url)
        return self._thoroughly(url)

    def _of_pattern(self, url: str) -> CheckUp:
        """The check-up with a word that nobody uses in the place of each slot."""
        held: list[str] = []

        def hold(match: re.Match[str]) -> str:
            held.append(match.group())
            return f"{HELD}{len(held) - 1}z"

        def filled(text: str) -> str:
            return _IS_HELD.sub(lambda m: held[int(m.group(1))], text)

        found = self._thoroughly(self._slots.in_addresses.sub(hold, url.strip()))
        findings = tuple(replace(f, message=filled(f.message), value=filled(f.value)) for f in found.findings)
        return CheckUp(url, findings, filled(found.mended) if findings else url)

    def _of_app(self, url: str) -> CheckUp:
        """The check-up of an address that an app of the plan opens: of all but its host, for it has none."""
        scheme, _, rest = url.strip().partition(":")
        there = rest.lstrip("/")
        front = f"{scheme}:{rest[: len(rest) - len(there)]}"
        found = self._thoroughly(_NOBODYS + there)
        findings = tuple(f for f in found.findings if f.code not in ("foreign_host", "wrong_host"))
        mended = front + found.mended.removeprefix(_NOBODYS)
        return CheckUp(url, findings, mended if findings else url)

    def _all_well(self, keys: list[str], base: str) -> bool:
        """Whether pieces that are well each for itself are well together."""
        distinct = set(keys)
        if len(distinct) != len(keys) or not distinct.issuperset(self._required.values()):
            return False
        if self._have_hosts:
            return False
        if not self._reading.own_hosts:
            return True
        host = base.split("/", 3)[2]
        if host not in self._own_seen:
            self._own_seen[host] = self._own(host.partition(":")[0])
        return self._own_seen[host]

    def _opens(self, front: str) -> bool:
        """Whether a browser opens what stands before the path, asked once for each."""
        site = "/".join(front.split("/", 3)[:3])
        if site not in self._opened:
            self._opened[site] = not why_not_opened(site + "/")
        return self._opened[site]

    def _thoroughly(self, url: str) -> CheckUp:
        draft = CheckDraft(url.strip())
        if not self._address(draft):
            return CheckUp(url, tuple(draft.findings), url)
        draft.text = self._shape.mended(draft.text, draft.note)
        base, query, fragment = split_address(draft.text)
        self._around(base, fragment, draft)
        texts = [text for text in query.split("&") if text]
        kept = self._query.kept(texts, draft)
        if kept != texts:
            query = "&".join(kept)
        base = self._base(base, bool(query), draft)
        mended = join_address(base, query, fragment, has_fragment="#" in draft.text and bool(fragment))
        size = len(mended.encode("utf-8", "surrogatepass"))
        if size > self._limit:
            draft.findings.append(too_long(mended, self._limit))
        order = {"error": 0, "warning": 1, "note": 2}
        findings = sorted(draft.findings, key=lambda f: order[f.level])
        return CheckUp(url, tuple(findings), mended if findings else url)

    def _address(self, draft: CheckDraft) -> bool:
        """Whether it is an address at all; what only lacks its scheme, or is written oddly, is mended."""
        guess = as_browsers_read(draft.text)
        problem = why_not_opened(guess)
        if not problem and guess != draft.text:
            problem = "browsers guess what is meant, other programs do not: write it with https:// and without \\"
        if not problem:
            return True
        draft.note("not_an_address", problem)
        if guess == draft.text and re.match(r"[a-z0-9-]+(\.[a-z0-9-]+)+([/?#:]|$)", guess, re.IGNORECASE):
            guess = "https://" + guess
        if why_not_opened(guess):
            return False
        draft.text = guess
        return True

    def _around(self, base: str, fragment: str, draft: CheckDraft) -> None:
        """What stands before and behind the query and belongs in no link."""
        authority = base.partition("//")[2].partition("/")[0]
        path = base[base.find(authority) + len(authority) :] if authority else base
        if "@" in authority:
            who = authority.rpartition("@")[0].partition(":")[0]
            text = f"{who}@ before the host logs somebody in, and whoever sees the link can: remove it"
            draft.note("login_in_host", text, "", who)
        for part, where in ((path, "path"), (fragment, "part after #")):
            if has_email(unquote(part)):
                draft.note("personal_data", f"the {where} carries personal data: remove it before anybody sees it")
        slot = self._slots.in_addresses.search(path)
        if slot and not slot.group().startswith(("~", "%")):
            text = f"{slot.group()} in the path: make sure it is filled, else the page does not exist"
            draft.note("slot_in_path", text, "", slot.group())

    def _base(self, base: str, has_query: bool, draft: CheckDraft) -> str:
        host = host_of(base)
        if self._reading.own_hosts and host and not self._own(host):
            text = f"{host} is not one of your hosts: the visits would not be seen. Check the landing page"
            draft.note("foreign_host", text, "", host)
        ascii_base = with_ascii_host(base)
        if ascii_base != base:
            draft.note("international_host", f"{host} is written {host_of(ascii_base)} in links", "", host)
        if has_query and with_path(base) != base:
            draft.note("no_path", "put a / after the host: without it some sites redirect and may lose the tags")
            ascii_base = with_path(ascii_base)
        return ascii_base

    def _piece(self, text: str) -> Piece:
        found = self._pieces.get(text)
        if found is None:
            name, _, raw = text.partition("=")
            if name in self._marks and raw.isalnum():
                # Click marks are all different: nothing is gained by keeping them.
                return Piece(text, name, raw)
            found = self._reader.read(text)
            if len(self._pieces) < KEPT_PIECES:
                self._pieces[text] = found
        return found
