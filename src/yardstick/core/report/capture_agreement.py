"""How often what a form captured says what the visits say, by form and week (R8, R32)."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..base.columns import Flags, Ints
from .breakdown import PERIODS
from .proportions import proportion
from .record_fields import RecordFields

WEEK = PERIODS["week"]


@dataclass(frozen=True)
class CaptureAgreement:
    """Leads of one form and week whose latest captured source is that of their latest touch.

    Attributes
    ----------
    form : name of the form
    week : ISO 8601
    agree, compared : of leads with both a captured source and a touch, how many agree
    low, high : Wilson's 90 % interval of their share; None where nothing was compared
    """

    form: str
    week: str
    agree: int
    compared: int
    low: float | None
    high: float | None


def compared_leads(fields: RecordFields) -> tuple[Ints, Flags]:
    """Counted leads with both a captured source and a touch that was seen, and whether these say the same.

    Parameters
    ----------
    fields : the records of a result

    Returns
    -------
    numbers : (k,) int64, of conversions
    agree : (k,) bool
    """
    result, trails = fields.result, fields.trails
    prepared = result.prepared
    conversions = prepared.conversions
    captured, seen = fields.field("captured_source"), fields.field("latest_source")
    real = np.zeros(len(conversions), np.bool_)
    filled = np.flatnonzero(trails.lengths > 0)
    last = trails.touch[trails.offsets[1:][filled] - 1]
    real[trails.conversion[filled]] = last < prepared.touches.count
    said = np.array([bool(text) for text in captured.shown], np.bool_)[captured.codes]
    chosen = np.flatnonzero(conversions.is_lead_row & result.counted.flags & real & said)
    places = {text: at for at, text in enumerate(seen.shown)}
    of_captured = np.array([places.get(text, -1) for text in captured.shown], np.int64)
    of_seen = np.array([places[text] for text in seen.shown], np.int64)
    return chosen, of_captured[captured.codes[chosen]] == of_seen[seen.codes[chosen]]


def capture_agreements(fields: RecordFields) -> list[CaptureAgreement]:
    """Captured against seen, the latest weeks first.

    Parameters
    ----------
    fields : the records of a result; those that count are looked at

    Notes
    -----
    A lead whose trail is what its form captured has nothing to compare.
    """
    conversions, forms = fields.result.prepared.conversions, fields.field("form")
    chosen, agreed = compared_leads(fields)
    counts: dict[tuple[str, str], list[int]] = {}
    for number, same in zip(chosen.tolist(), agreed.tolist(), strict=True):
        key = (WEEK(int(conversions.day[number])), forms.shown[int(forms.codes[number])])
        hits = counts.setdefault(key, [0, 0])
        hits[0] += same
        hits[1] += 1
    out = []
    for (week, form), (agree, compared) in sorted(counts.items(), reverse=True):
        share = proportion(agree, compared)
        out.append(CaptureAgreement(form, week, agree, compared, share.low, share.high))
    return out
