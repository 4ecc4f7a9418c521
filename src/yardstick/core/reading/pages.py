"""Landing pages: the one value that an address has as a page, for breakdowns, conditions and coverage (R3)."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from ..base.words import fold
from .tags import host_of, split_address

ANY = "*"


def page_key(address: str) -> str:
    """A landing page as it is compared: host without port and undecoded path, both folded, without query, fragment and
    closing slash. A path alone stays one, and `/` alone stays.

    Examples
    --------
    >>> page_key("https://Ferry.test:8080/Isle/?a=1#x")
    'ferry.test/isle'
    """
    return fold(page_text(address))


def page_text(address: str) -> str:
    """A landing page as it is shown: as `page_key`, with the path as it is written."""
    base = split_address(address.strip())[0]
    host = host_of(base)
    if not host:
        return base.rstrip("/") or base[:1]
    path = base.split("//", 1)[1].partition("/")[2].rstrip("/")
    return f"{host}/{path}".rstrip("/")


def pages_among(wanted: Sequence[str]) -> Callable[[str], bool]:
    """A test whether a page is one of some. Each may end in `*` for any rest: `x/*` holds `x` itself, not `xy`."""
    whole = {page_key(_addressed(text)) for text in wanted if not text.strip().endswith(ANY)}
    begins = [fold(text.strip()[:-1]) for text in wanted if text.strip().endswith(ANY)]

    def listed(page: str) -> bool:
        return page in whole or any(
            page.startswith(start) or (start.endswith("/") and page == start.rstrip("/")) for start in begins
        )

    return listed


def _addressed(text: str) -> str:
    """A page as it is written in a condition, as an address."""
    plain = text.strip()
    return plain if plain.startswith("/") or "://" in plain else f"//{plain}"
