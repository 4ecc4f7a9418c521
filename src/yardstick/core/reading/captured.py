"""Captured sources (R8): the tags a form kept with a lead, and the codes people gave, as touches of last resort."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from ..base.columns import NO_INSTANT, Flags, Ints, Text
from ..base.distinct import distinct_columns
from ..base.tables import Table
from ..base.words import SLOTS, Slots, fold
from ..plan.campaign_records import CampaignNames
from .tags import FIELDS

SETS = ("first", "last")


@dataclass(frozen=True)
class Captured:
    """Sets in this order: first and last set of every lead row in turn, the codes of lead rows, the codes of sales.

    Attributes
    ----------
    fields : per name of `FIELDS`, (m,) text, trimmed, empty where unfilled; a code fills the campaign that owns it
    filled : (m,) bool, sets with any value
    at : (m,) int64, when the set counts as a touch
    sameness : (m,) int64, equal numbers = equal in all fields after folding
    lead : (m,) int64, the lead row a set is from, -1 where it is a sale's
    sale : (m,) int64, the conversion row a set is from, -1 where it is a lead's
    """

    fields: dict[str, Text]
    filled: Flags
    at: Ints
    sameness: Ints
    lead: Ints
    sale: Ints

    def by_form(self) -> int:
        """How many sets a form captured; those of codes come after them."""
        return 2 * (int(self.lead.max(initial=-1)) + 1)


def code_owner(campaigns: Sequence[CampaignNames]) -> Callable[[str], str]:
    """A function from a voucher or spoken code to the name of the campaign that owns it, empty if none does."""
    owner = {fold(code): c.name for c in campaigns for code in c.vouchers if code.strip()}
    return lambda code: owner.get(fold(code), "") if code else ""


def read_captured(
    leads: Table,
    sales: Table,
    same: Callable[[str], str],
    slots: Slots = SLOTS,
    campaigns: Sequence[CampaignNames] = (),
) -> Captured:
    """The captured sets of every lead row, and the codes of lead rows and sales.

    Parameters
    ----------
    leads, sales : the leads and conversions tables
    same : when two values are one (R2)
    slots : tells unfilled slots
    campaigns : who owns which code
    """
    n, m = len(leads), len(sales)
    owned = code_owner(campaigns)
    codes = [leads.text("code").map(owned), sales.text("code").map(owned)]
    turn = _interleave(np.arange(n), np.arange(n, 2 * n))
    fields: dict[str, Text] = {}
    for name in FIELDS:
        both = Text.join([leads.text(f"{which}_{name}").map(slots.clean) for which in SETS]).take(turn)
        fields[name] = Text.join([both, *(codes if name == "campaign" else [Text.blank(n), Text.blank(m)])])
    lead_at, first_seen = leads.ints("occurred_at"), leads.ints("first_seen_at")
    by_form = _interleave(np.where(first_seen == NO_INSTANT, lead_at, first_seen), lead_at)
    at = np.concatenate([by_form, lead_at, sales.ints("occurred_at")])
    filled = np.zeros(3 * n + m, np.bool_)
    for column in fields.values():
        filled |= column.filled()
    folded = np.stack([column.map(same).codes.astype(np.int64) for column in fields.values()])
    sameness = distinct_columns(folded)[1]
    rows = np.arange(n)
    lead = np.concatenate([_interleave(rows, rows), rows, np.full(m, -1)])
    sale = np.concatenate([np.full(3 * n, -1), np.arange(m)])
    return Captured(fields, filled, at, sameness, lead, sale)


def _interleave(first: Ints, second: Ints) -> Ints:
    out = np.empty(len(first) + len(second), first.dtype)
    out[0::2], out[1::2] = first, second
    return out


def captured_for(
    captured: Captured, lead: Ints, sale: Ints, conversion_at: Ints, look_back: Ints, after: Ints
) -> tuple[Ints, Ints]:
    """The captured touches that serve conversions whose trail is empty (R8, R11).

    Parameters
    ----------
    lead : (m,) int64, row of the lead each conversion is or names, -1 if none
    sale : (m,) int64, its own row among the conversions, -1 where it is a lead
    conversion_at, look_back, after : (m,) int64, its time, its window for clicks, and the instant after which touches
        count (the smallest int64 where there is none)

    Returns
    -------
    owner : (t,) int64, which of the m conversions each captured touch is for, ascending
    number : (t,) int64, number of the set; of equal sets the earliest only; in time order, codes after the others
    """
    leads = captured.by_form() // 2
    every = np.arange(len(lead))
    with_lead, with_sale = every[lead >= 0], every[sale >= 0]
    of_lead = lead[with_lead]
    owner = np.concatenate([with_lead, with_lead, with_lead, with_sale])
    number = np.concatenate([2 * of_lead, 2 * of_lead + 1, 2 * leads + of_lead, 3 * leads + sale[with_sale]])
    at = captured.at[number]
    age = conversion_at[owner] - at
    good = captured.filled[number] & (age >= 0) & (age <= look_back[owner]) & (at > after[owner])
    owner, number, at = owner[good], number[good], at[good]
    order = np.lexsort((number, at, captured.sameness[number], owner))
    owner, number, at = owner[order], number[order], at[order]
    alike = captured.sameness[number]
    again = np.zeros(len(owner), np.bool_)
    again[1:] = (owner[1:] == owner[:-1]) & (alike[1:] == alike[:-1])
    owner, number, at = owner[~again], number[~again], at[~again]
    order = np.lexsort((number, at, owner))
    return owner[order], number[order]
