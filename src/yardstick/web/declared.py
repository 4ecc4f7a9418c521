"""What is declared in Python and drawn in the browser, as the module of TypeScript that `make api` writes: the lists of
the plan with their titles and columns, and the rules of yardsticks with their names."""

from __future__ import annotations

import json
from typing import Any

from yardstick.core.plan.crediting_phase import USUAL_RULES
from yardstick.core.rules.registry import RULES
from yardstick.formats.plan.sections import SECTIONS

_HEAD = """/** Written by `make api` from what Python declares; do not edit. */
"""


def declared() -> str:
    """The module's text."""
    sections: list[dict[str, Any]] = [
        {
            "name": section.name,
            "title": section.title,
            "one": section.one,
            "purpose": section.purpose,
            "columns": list(section.columns),
            "place": section.place,
            "ordered": section.ordered,
        }
        for section in SECTIONS.values()
    ]
    rules = [{"word": rule.word, "label": rule.label, "usual": rule.word in USUAL_RULES} for rule in RULES.values()]
    parts = {"SECTIONS": sections, "RULES": rules}
    constants = (f"export const {name} = {json.dumps(value, indent=2)} as const\n" for name, value in parts.items())
    return "\n".join([_HEAD, *constants])
