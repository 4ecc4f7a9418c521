"""What a setting can change, in the words of its form. Each is said where the setting is declared."""

from __future__ import annotations

FIGURES = "Changes figures."
VERDICTS = "Changes verdicts, no figure."
FINDINGS = "Changes findings, no figure."
LINKS = "Changes links that are made from now on, no figure."
FILES = "Changes how its files are read from now on, no figure that stands."
SHOWN = "Changes what is shown beside the figures, no figure."
NOTHING = "Changes nothing: it is there to be read."
WITHOUT_FIGURES = (LINKS, FILES, SHOWN, NOTHING)
"""What is said of settings on which no figure, verdict or finding of a report hangs."""
