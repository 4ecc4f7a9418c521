"""Who may be listed by name: people who agreed to it, for a purpose (R37)."""

from __future__ import annotations

import numpy as np

from ..base.columns import NO_INSTANT, Flags, Ints
from ..base.schema import is_yes
from ..base.words import fold
from .weigh import Result

ANY = "any"
"""Instead of a purpose: whatever was agreed to."""


def consented(result: Result, purpose: str) -> Flags:
    """Of every record, whether its person agreed.

    Parameters
    ----------
    result : a weighing
    purpose : one of those that `consent_base` names, joined with `;`, folded; `ANY` of them

    Returns
    -------
    (c,) bool

    Notes
    -----
    A person's word is that of the lead row with the latest `consent_at`, else its own time, that says anything; of rows
    of one time the later. What says nothing is no consent; a later no takes back an earlier yes.
    """
    prepared = result.prepared
    leads, person = prepared.tables.leads, prepared.conversions.person
    agreed = np.zeros(int(person.max()) + 1 if len(person) else 0, np.bool_)
    if "consent" in leads.columns and len(leads):
        said, base = leads.text("consent"), leads.text("consent_base")
        filled = np.flatnonzero(~said.test(lambda text: not text.strip()))
        at = _told_at(result, filled)
        yes = said.test(is_yes)[filled] & base.test(lambda text: _names(text, purpose))[filled]
        who = person[: len(leads)][filled]
        order = np.lexsort((filled, at, who))
        last = np.append(who[order][1:] != who[order][:-1], np.ones(min(1, len(order)), np.bool_))
        agreed[who[order][last]] = yes[order][last]
    return agreed[person]


def _told_at(result: Result, rows: Ints) -> Ints:
    leads = result.prepared.tables.leads
    own = leads.ints("occurred_at")[rows]
    if "consent_at" not in leads.columns:
        return own
    told = leads.ints("consent_at")[rows]
    return np.where(told == NO_INSTANT, own, told)


def _names(base: str, purpose: str) -> bool:
    return fold(purpose) == ANY or fold(purpose) in {fold(part) for part in base.split(";")}
