"""Wilson's interval against published values and against scipy."""

from __future__ import annotations

import pytest
from scipy import stats

from yardstick.core.report.proportions import Z_90, proportion


@pytest.mark.parametrize(
    ("hits", "of", "low", "high"),
    [(81, 263, 0.2553, 0.3662), (15, 148, 0.0624, 0.1605), (0, 20, 0.0, 0.1611), (1, 29, 0.0061, 0.1718)],
)
def test_published_intervals(hits, of, low, high):
    """R. G. Newcombe, "Two-sided confidence intervals for the single proportion", Statistics in Medicine 17, 1998,
    table I, method 3, 95 % (the first as stated there; the others from memory)."""
    found = proportion(hits, of, 1.959963984540054)
    assert (found.low, found.high) == (pytest.approx(low, abs=5e-5), pytest.approx(high, abs=5e-5))


@pytest.mark.parametrize(("hits", "of"), [(0, 1), (1, 1), (3, 7), (50, 50), (12, 1_000), (999_999, 1_000_000)])
def test_intervals_are_those_of_scipy(hits, of):
    """scipy.stats.binomtest(...).proportion_ci(method="wilson")."""
    wanted = stats.binomtest(hits, of).proportion_ci(0.9, method="wilson")
    found = proportion(hits, of)
    assert (found.low, found.high) == (pytest.approx(wanted.low, abs=1e-12), pytest.approx(wanted.high, abs=1e-12))
    assert stats.norm.ppf(0.95) == pytest.approx(Z_90, abs=1e-15)


def test_of_nothing_there_is_no_interval():
    assert (proportion(0, 0).low, proportion(0, 0).high) == (None, None)
