"""Reports of sessions that were counted already: a row is many visits, so no person and no touch can be told."""

from __future__ import annotations

from ..cells.plain_words import plain_words
from .questions.look import Look

_COUNTED = (
    "sessions visits users visitors pageviews views hits sitzungen besuche besucher nutzer seitenaufrufe visites "
    "utilisateurs visiteurs sesiones visitas usuarios sessioni visite utenti sessies bezoeken bezoekers gebruikers "
    "sesjon besok wizyty sesje uzytkownicy navstevy oturum kullanicilar"
)
_COUNTS = frozenset(_COUNTED.split(" "))
_TELLING = "id key cookie client url address page adresse seite referrer referer email mail landing location"
_TELL = frozenset(_TELLING.split(" "))


def why_aggregated(look: Look) -> str:
    """Why a file cannot be visits, with what to export in its place; empty where each row may be one.

    Parameters
    ----------
    look : of the file
    """
    counted = [
        name
        for name, content in zip(look.names, look.contents, strict=True)
        if content.what == "number"
        and set(plain_words(name).split()) & _COUNTS
        and not set(plain_words(name).split()) & _TELL
    ]
    times = any(":" in cell for i, c in enumerate(look.contents) if c.what == "date" for cell in look.filled(i)[:50])
    telling = any(c.what == "mail" for c in look.contents) or any("id" in plain_words(n).split() for n in look.names)
    if not counted or times or telling:
        return ""
    return (
        f"each row is a number of visits ({', '.join(counted[:3])}), so no person can be told and no credit given: "
        "export single visits (one row each, with its time, its visitor id and its whole address), or load the web "
        "server's log"
    )
