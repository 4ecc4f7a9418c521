"""What is declared in Python and drawn in the browser, as the module of TypeScript that `make api` writes: the lists of
the plan with their titles and columns, the rules of yardsticks with their names, and the words that codes are shown by.
"""

from __future__ import annotations

import json
from typing import Any

from yardstick.core.links.link_states import LinkCause
from yardstick.core.plan.crediting_phase import USUAL_RULES
from yardstick.core.rules.registry import RULES
from yardstick.formats.plan.sections import SECTIONS
from yardstick.stations.gather.sources import SOURCE_STATE_WORDS
from yardstick.stations.mark.place_links import LINK_STATE_WORDS
from yardstick.stations.mark.visit_link import FATE_WORDS, WELL
from yardstick.stations.weigh.board_rows import VERDICT_WORDS

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
    parts = {
        "SECTIONS": sections,
        "RULES": rules,
        "VERDICT_WORDS": VERDICT_WORDS,
        "LINK_STATE_WORDS": LINK_STATE_WORDS,
        "LINK_CAUSES": list(LinkCause),
        "SOURCE_STATE_WORDS": SOURCE_STATE_WORDS,
        "FATE_WORDS": FATE_WORDS,
        "FATES_THAT_ARE_WELL": WELL,
    }
    constants = (f"export const {name} = {json.dumps(value, indent=2)} as const\n" for name, value in parts.items())
    return "\n".join([_HEAD, *constants])
