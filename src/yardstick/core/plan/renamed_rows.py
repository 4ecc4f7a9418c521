"""Columns of values under their names of the day."""

from __future__ import annotations

import numpy as np

from ..base.columns import Ints, Text
from .campaigns import Names


def rename_rows(names: Names, field: str, text: Text, days: Ints) -> Text:
    """The values of a column under their names of the day.

    Parameters
    ----------
    names : of the plan
    field : whose values they are: campaign, source, goal...
    text : (n,) text
    days : (n,) int64, days since 1970

    Returns
    -------
    (n,) text, see `Names.written`
    """
    if not names.renames_any(field) or not len(text):
        return text
    seen = {value: code for code, value in enumerate(text.values)}
    codes = text.codes.astype(np.int64)
    out = codes.copy()
    for start, end in names.spans(field):
        mine = (days >= start) & (days < end)
        if mine.any():
            table = [seen.setdefault(names.written(field, value, start), len(seen)) for value in text.values]
            out[mine] = np.array(table, np.int64)[codes[mine]]
    return Text(out.astype(np.int32), list(seen))
