"""Writing addresses (R1): one `?`, `&` between pairs, what was there kept byte for byte, the fragment last."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from ipaddress import ip_address
from urllib.parse import quote

import idna

from ..base.words import SLOTS, fold
from ..reading.tags import host_of, parameters, split_address, why_not_an_address

LONGEST_BYTES = 2_048
"""Longer addresses are cut or refused by some browsers, mail programs and ad platforms (common practice)."""
_RESERVED_AND_PERCENT = ":/?#[]@!$&'()*+,;=%-._~"
_RAW = re.compile(r"[^A-Za-z0-9" + re.escape(_RESERVED_AND_PERCENT) + "]")
_BROKEN_PERCENT = re.compile(r"%(?![0-9A-Fa-f]{2})")


@dataclass(frozen=True)
class LinkFinding:
    """Something about a link that a person should know before it goes out.

    Attributes
    ----------
    code : one of a closed list, see docs/rules.md
    level : "error", "warning" or "note"
    message : what it is, and what to do
    field : parameter or tag field it is about
    value : the value it is about
    """

    code: str
    level: str
    message: str
    field: str = ""
    value: str = ""


@dataclass(frozen=True)
class Built:
    """An address with its tags, and what is to be known about it."""

    url: str
    findings: tuple[LinkFinding, ...] = ()


def encode(text: str) -> str:
    """A name or value percent-encoded as UTF-8; only the unreserved characters of RFC 3986 stay as they are."""
    return quote(text, safe="", errors="surrogatepass")


def why_not_opened(url: str) -> str:
    """Why no browser opens an address, with what to do; empty where one does.

    Notes
    -----
    What R1 does not accept, what the URL Standard (WHATWG) refuses, by Ada's reading of it, and host names with an
    empty part, which no name server resolves.

    Examples
    --------
    >>> why_not_opened("lunnick")
    'not an address: begin it with http:// or https://, or with / for a path'
    """
    problem = why_not_an_address(url)
    text = url.strip()
    if text.startswith("/") or not _WEB.match(text):
        return problem
    host = host_of(text)
    if problem and (SLOTS.in_addresses.search(host) or not _opens(text)):
        return problem
    if re.search(r"[^.]\.\.+[^.]", host):
        return f"the host {host} has an empty part between two dots: remove one"
    if _opens(text):
        return ""
    port = re.search(r":([^:@\]]*)$", re.split(r"[/?#]", text.split("//", 1)[1], maxsplit=1)[0])
    if port and port[1] and not (re.fullmatch(r"0*\d{1,5}", port[1], re.ASCII) and int(port[1][-5:]) < 1 << 16):
        return f"the port {port[1][:20]} is none: a port is a number up to 65535"
    return f"no browser opens the host {host[:100]!r}: correct it"


def is_of_this_machine(host: str) -> bool:
    """Whether a host name leads nowhere from another machine or another network."""
    try:
        return not ip_address(host.strip("[]")).is_global
    except ValueError:
        return host == "localhost" or host.endswith(".localhost")


def _opens(text: str) -> bool:
    # Loaded where it is needed: the command starts without it.
    from ada_url import check_url

    # A lone surrogate is written as U+FFFD, as browsers do.
    return bool(check_url(text.encode("utf-8", "replace").decode()))


# All characters but these: a set of what is left would be a list of the whole of Unicode, built at every start.
_IN_PATH = re.compile(r"[^!#-;=?-_a-z|~]")
_IN_QUERY = re.compile(r"[^!#-;=?-~]")
_IN_FRAGMENT = re.compile(r"[^!#-;=?-_a-~]")
"""Characters that browsers encode there (WHATWG URL Standard, percent-encode sets)."""
_WEB = re.compile("https?:", re.IGNORECASE)
_ODD_SPACE = re.compile(r"[\t\r\n\\]")


def as_browsers_read(url: str) -> str:
    r"""An address that R1 does not accept though browsers open it (with backslashes, with a tab inside), as they read
    it; every other text as it is, trimmed.

    Examples
    --------
    >>> as_browsers_read("https:\\Lunnick.example\\night")
    'https://lunnick.example/night'
    """
    text = url.strip("".join(map(chr, range(0x21))))
    if text.startswith("/") or not _WEB.match(text):
        return text
    front = re.split(r"[?#]", text, maxsplit=1)[0]
    if not why_not_an_address(text) and not _ODD_SPACE.search(front):
        return text
    from ada_url import parse_url

    try:
        return str(parse_url(text.encode("utf-8", "replace").decode(), ("href",))["href"])
    except ValueError:
        return text


def written_out(url: str) -> str:
    """An address as it goes over the wire: what browsers would percent-encode is, everything else keeps its bytes.

    Slots of ad platforms are left as they are in a query, since platforms find them by their signs.
    """
    base, query, fragment = split_address(url)
    scheme, slashes, rest = base.partition("//")
    if slashes and scheme.endswith(":"):
        authority, slash, path = rest.partition("/")
        user, at, host = authority.rpartition("@")
        base = with_ascii_host(f"{scheme}//{_encoded(_IN_PATH, user)}{at}{host}") + slash + _encoded(_IN_PATH, path)
    else:
        base = _encoded(_IN_PATH, base)
    query, fragment = _encoded(_IN_QUERY, query), _encoded(_IN_FRAGMENT, fragment)
    return join_address(base, query, fragment, has_fragment="#" in url)


def _encoded(unfit: re.Pattern[str], text: str) -> str:
    return unfit.sub(lambda m: quote(m.group(), safe="", errors="replace"), text)


def join_address(base: str, query: str, fragment: str, *, has_fragment: bool | None = None) -> str:
    """An address from its parts; the opposite of `tags.split_address`."""
    mark = bool(fragment) if has_fragment is None else has_fragment
    return base + ("?" + query if query else "") + ("#" + fragment if mark else "")


def build(url: str, pairs: Sequence[tuple[str, str]], encoded: Callable[[str], str] = encode) -> Built:
    """Add parameters to an address.

    Parameters
    ----------
    url : an address R1 accepts; its query is kept byte for byte, its fragment stays last
    pairs : (name, value) in the order wanted; empty values are left out
    encoded : how a value is written; patterns leave their slots as they are

    Returns
    -------
    Built
        A name that is there already is kept, the new one appended, and the conflict reported. What browsers would
        percent-encode is, and reported.

    Examples
    --------
    >>> build("https://lunnick.example/night?lang=en#top", [("utm_source", "Quorrin Ads")]).url
    'https://lunnick.example/night?lang=en&utm_source=Quorrin%20Ads#top'
    """
    findings, pieces = [], []
    given = url.strip()
    url = written_out(given)
    base, query, fragment = split_address(url)
    # Of a host in other letters only its ASCII form is written, which is no fault.
    if url != with_ascii_host(given):
        raw = next((c for c in given if _IN_PATH.match(c)), "")
        text = f"{raw!r} was percent-encoded: some programs cut the address there"
        findings.append(LinkFinding("raw_character", "warning", text, "", raw))
    has_fragment = "#" in url
    there: dict[str, str] = {}
    for name, value, _ in parameters(query):
        there.setdefault(fold(name), value)
    for name, value in pairs:
        if not value:
            continue
        earlier = there.get(fold(name))
        if earlier is not None:
            same = earlier == value
            text = f"the address already has {name}={earlier}: " + (
                "it appears twice now: remove one" if same else f"it counts, {value} does not: remove one"
            )
            findings.append(LinkFinding("same_name", "warning" if same else "error", text, name, value))
        pieces.append(f"{encode(name)}={encoded(value)}")
    if pieces:
        stem = query.removesuffix("&")
        query = (query if query.endswith("&") else query + "&" if stem else "") + "&".join(pieces)
    out = join_address(with_ascii_host(with_path(base) if query else base), query, fragment, has_fragment=has_fragment)
    if len(out.encode("utf-8", "surrogatepass")) > LONGEST_BYTES:
        findings.append(too_long(out, LONGEST_BYTES))
    return Built(out, tuple(findings))


def too_long(url: str, limit: int) -> LinkFinding:
    """The finding of an address that is longer than a limit."""
    size = len(url.encode("utf-8", "surrogatepass"))
    text = f"the address has {size} bytes, more than {limit}: shorten values, or use a short link"
    return LinkFinding("too_long", "error", text, "", str(size))


def with_path(base: str) -> str:
    """The base with a `/` after a bare host, which otherwise may cost a redirect.

    Examples
    --------
    >>> with_path("https://lunnick.example")
    'https://lunnick.example/'
    """
    host = host_of(base)
    return base + "/" if host and "/" not in base.split("//", 1)[1] else base


def with_ascii_host(base: str) -> str:
    """The base with an international host name in its ASCII form (RFC 3492, UTS 46); unchanged where there is none.

    Examples
    --------
    >>> with_ascii_host("https://fähre.example/ä")
    'https://xn--fhre-loa.example/ä'
    """
    scheme, slashes, rest = base.partition("//")
    if not slashes or rest.isascii():
        return base
    authority, slash, path = rest.partition("/")
    user, at, host_port = authority.rpartition("@")
    host, colon, port = host_port.partition(":")
    if host.isascii():
        return base
    try:
        ascii_host = idna.encode(host, uts46=True).decode()
    except idna.IDNAError:
        return base
    return f"{scheme}//{user}{at}{ascii_host}{colon}{port}{slash}{path}"


def without(url: str, gone: Callable[[str], bool]) -> str:
    """An address without some of its parameters, everything else byte for byte.

    Parameters
    ----------
    url : any address
    gone : told the folded name of each parameter
    """
    base, query, fragment = split_address(url)
    kept = [p for p in query.split("&") if not gone(fold(_name(p)))]
    return join_address(base, "&".join(kept), fragment, has_fragment="#" in url)


def _name(piece: str) -> str:
    found = parameters(piece)
    return found[0][0] if found else ""


def strip_tags(url: str, marks: Iterable[str] = ()) -> str:
    """An address for sharing: without tags, extra tags and click marks.

    Examples
    --------
    >>> strip_tags("https://lunnick.example/?utm_source=a&lang=en&ckid=7", ["ckid"])
    'https://lunnick.example/?lang=en'
    """
    known = {fold(mark) for mark in marks}
    return without(url, lambda name: name.startswith("utm_") or name in known)


def without_raw_characters(text: str) -> str:
    """Spaces, quotes, letters outside ASCII and the like percent-encoded; what is encoded already stays."""
    return _RAW.sub(lambda m: encode(m.group()), text)


def has_raw_characters(text: str) -> bool:
    """Whether a text has characters that must be percent-encoded in an address."""
    return bool(_RAW.search(text))


def without_broken_percents(text: str) -> str:
    """A `%` that begins no escape written as one."""
    return _BROKEN_PERCENT.sub("%25", text)


def has_broken_percents(text: str) -> bool:
    """Whether a `%` stands there that begins no escape."""
    return bool(_BROKEN_PERCENT.search(text))
