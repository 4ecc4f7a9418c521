"""Codes of where a link stands and of what is wrong there; words are made where they are shown."""

from __future__ import annotations

from enum import StrEnum


class LinkState(StrEnum):
    """Where a link stands on its way from the plan to its last arrival."""

    PLANNED = "planned"
    PLACED = "placed"
    NONE_YET = "none_yet"
    ARRIVING = "arriving"
    QUIET = "quiet"
    ENDED = "ended"


class LinkCause(StrEnum):
    """What is wrong with where a link stands, the worst first: what arrives under another name is counted wrong."""

    ANOTHER = "another"
    DRAFT = "draft"
    CLICKED = "clicked"
    QUIET = "quiet"
    LATE = "late"
    NONE_YET = "none_yet"
