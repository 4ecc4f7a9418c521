"""The lists of records in settings.toml, by name: every kind of record that there is."""

from __future__ import annotations

from typing import Any

from . import (
    campaign_parts,
    costing_parts,
    counting_parts,
    linking_parts,
    matter_parts,
    reading_parts,
    source_parts,
    yardstick_parts,
)
from .section import Section

_DECLARED: tuple[Section[Any], ...] = tuple(
    declared
    for module in (
        campaign_parts,
        counting_parts,
        reading_parts,
        costing_parts,
        yardstick_parts,
        linking_parts,
        source_parts,
        matter_parts,
    )
    for declared in vars(module).values()
    if isinstance(declared, Section)
)
SECTIONS: dict[str, Section[Any]] = {section.name: section for section in _DECLARED}
"""All kinds of records, by the name of their list in settings.toml, in the order in which screens show them."""
