"""What a station refuses, for whoever called it to tell: the text says what, and what to do."""

from __future__ import annotations


class NotFound(LookupError):
    """What was asked for is not there; the text says what."""


class Overtaken(ValueError):
    """Somebody else changed the plan in the meantime; nothing was kept."""
