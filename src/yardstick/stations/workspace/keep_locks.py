"""Expectations that were locked: the campaign is the same one, whatever it is called, taken out or added again."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from yardstick.core.base.errors import SettingsError
from yardstick.core.base.words import fold
from yardstick.formats.plan.plan_document import Document
from yardstick.store.plans import texts_with

from .desk import Desk

EXPECTATION = ("expected_leads", "expected_value", "expected_reason", "locked_on")


def keep_locks(
    desk: Desk,
    before: Sequence[Mapping[str, Any]],
    after: Sequence[Mapping[str, Any]],
    renamed: Mapping[str, Mapping[str, Any]] | None = None,
) -> None:
    """See that a locked expectation stays as it is: it is only worth something if nobody can bend it afterwards.

    Parameters
    ----------
    before, after : the campaigns, as they stand and as they would
    renamed : those that are called otherwise now, by their folded name before

    Raises
    ------
    SettingsError
        If one would be another; says which, and what of it.
    """
    now = {**{fold(str(c.get("name", ""))): c for c in after}, **(renamed or {})}
    for campaign in [*before, *_locked_before(desk, before, after)]:
        found = now.get(fold(str(campaign["name"])))
        if campaign.get("locked_on") and found is not None:
            bent = [name for name in EXPECTATION if found.get(name) != campaign.get(name)]
            if bent:
                raise SettingsError(
                    f"campaign {campaign['name']!r}: its expectation was locked on {campaign['locked_on']}: "
                    f"{', '.join(bent)} cannot change any more"
                )


def _locked_before(
    desk: Desk, before: Sequence[Mapping[str, Any]], after: Sequence[Mapping[str, Any]]
) -> list[dict[str, Any]]:
    """Campaigns that come, as they last stood with a locked expectation: one that was taken out and is there again is
    the same one, and what was expected of it stays."""
    there = {fold(str(c.get("name", ""))) for c in before}
    fresh = {fold(str(c.get("name", ""))): str(c.get("name", "")) for c in after}
    out = []
    with desk.engine.connect() as connection:
        for folded, name in fresh.items():
            if folded and folded not in there:
                for text in texts_with(connection, desk.workspace, ("locked_on", name)):
                    found = [c for c in Document(text).records("campaign") if fold(str(c.get("name", ""))) == folded]
                    out += [c for c in found if c.get("locked_on")]
                    if found:
                        break
    return out
