"""Columns held as Arrow holds them answer as small ones do."""

from __future__ import annotations

import numpy as np
import pyarrow as pa
import pytest

from yardstick.core.base.columns import Text
from yardstick.core.base.values import Values

ODD = ["", "Straße", " v-7 ", "V-8 x", "ÉTÉ", "v-9", "V-10"]
TEXTS = [*ODD, *(f"p{n:06}" for n in range(20_000))]
CODES = np.arange(len(TEXTS), dtype=np.int32)
SMALL, LARGE = Text(CODES, TEXTS), Text(CODES, Values(pa.array(TEXTS)))


@pytest.mark.parametrize("how", ["is", "begins", "contains"])
@pytest.mark.parametrize("needle", ["v-", "strasse", "été", "v-10", "p0000", "x", "p000001"])
def test_a_text_is_found_alike(needle, how):
    found = LARGE.test_folded(needle, how)
    assert found.tolist() == SMALL.test_folded(needle, how).tolist()
    if how == "contains":
        assert found.any()


@pytest.mark.parametrize("value", ["", "v-9", "V-9", "p019999", "nobody"])
def test_a_value_is_told_alike(value):
    assert LARGE.equals(value).tolist() == SMALL.equals(value).tolist()
    assert LARGE.codes_of([value, "ÉTÉ"]) == SMALL.codes_of([value, "ÉTÉ"])
