"""How often what a form captured says what the visits say, by form and week (R8, R32)."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

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


def capture_agreements(fields: RecordFields) -> list[CaptureAgreement]:
    """Captured against seen, the latest weeks first.

    Parameters
    ----------
    fields : the records of a result; those that count are looked at

    Notes
    -----
    A lead whose trail is what its form captured has nothing to compare.
    """
    result, trails = fields.result, fields.trails
    prepared = result.prepared
    conversions = prepared.conversions
    captured, seen, forms = fields.field("captured_source"), fields.field("latest_source"), fields.field("form")
    real = np.zeros(len(conversions), np.bool_)
    filled = np.flatnonzero(trails.lengths > 0)
    last = trails.touch[trails.offsets[1:][filled] - 1]
    real[trails.conversion[filled]] = last < prepared.touches.count
    said = np.array([bool(text) for text in captured.shown], np.bool_)[captured.codes]
    chosen = np.flatnonzero(conversions.is_lead_row & result.counted.flags & real & said)
    counts: dict[tuple[str, str], list[int]] = {}
    for number in chosen.tolist():
        key = (WEEK(int(conversions.day[number])), forms.shown[int(forms.codes[number])])
        hits = counts.setdefault(key, [0, 0])
        hits[0] += captured.shown[int(captured.codes[number])] == seen.shown[int(seen.codes[number])]
        hits[1] += 1
    out = []
    for (week, form), (agree, compared) in sorted(counts.items(), reverse=True):
        share = proportion(agree, compared)
        out.append(CaptureAgreement(form, week, agree, compared, share.low, share.high))
    return out
