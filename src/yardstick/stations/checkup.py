"""The check-up of addresses against a workspace's plan."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date

from yardstick.core.checkup import Checker, Planned
from yardstick.core.settings import Settings
from yardstick.formats.plan_document import Document


def planned_campaigns(document: Document) -> list[Planned]:
    """The campaigns of a plan as links write them: by code where there is one, else by name."""
    out = []
    for record in document.records("campaign"):
        ends = date.fromisoformat(record["ends"]) if record.get("ends") else None
        out += [Planned(value, ends, record.get("host", "")) for value in (record.get("code"), record["name"]) if value]
    return out


def checker_for(
    plan: tuple[Settings, Document], today: date | None = None, known: dict[str, Iterable[str]] | None = None
) -> Checker:
    """A checker of addresses.

    Parameters
    ----------
    plan : settings, and the document they came from
    today : campaigns that ended before are a finding
    known : further known values per field
    """
    settings, document = plan
    return Checker(settings, planned_campaigns(document), known, today)
