"""What goes wrong in words a person can act on."""

from __future__ import annotations


class SettingsError(ValueError):
    """A setting is wrong or asks for a rule that is not built. The text says which and what to do."""
