"""Intervals against general-purpose libraries, and against worlds whose rates are known."""

from __future__ import annotations

from decimal import Decimal

import numpy as np
import pytest
from scipy import stats

from core.test_hard_cases import sale, tags, visit
from effort import much
from worlds import into_core
from yardstick.core.plan.crediting_phase import Yardstick
from yardstick.core.plan.plan import plan_of
from yardstick.core.report.certainty import _thresholds, intervals_and_redraws, replicate_weights
from yardstick.core.report.weigh import weigh


def bound(exact):
    assert exact is not None
    return float(exact)


def test_how_often_a_bucket_is_drawn_is_the_poisson_distribution():
    """scipy.stats.poisson: its distribution function, and a test of fit of all 819,200 draws."""
    of_scipy = stats.poisson.cdf(np.arange(12), 1)
    assert np.allclose(_thresholds()[:12].astype(float) / 2**64, of_scipy, rtol=1e-14, atol=0)
    seen = np.bincount(replicate_weights().ravel(), minlength=9)
    wanted = stats.poisson.pmf(np.arange(8), 1)
    both = np.append(seen[:8], seen[8:].sum()), np.append(wanted, 1 - wanted.sum()) * seen.sum()
    assert stats.chisquare(*both).pvalue > 0.01


def test_the_percentiles_are_those_of_numpy():
    """numpy.percentile, whose usual method interpolates linearly between neighbours."""
    people = [f"p{i}" for i in range(30)]
    world = {
        "visits": [visit(i, tags("zeta", "cpc", "A"), person=p) for i, p in enumerate(people)],
        "conversions": [sale(i, f"{i}.50", person=p) for i, p in enumerate(people)],
        "spend": [{"day": "2026-04-01", "platform": "Zeta", "campaign": "A", "cost": "100.00"}],
    }
    result = weigh(into_core(world), plan_of(yardsticks=(Yardstick("linear", "linear"),)))
    (found,) = intervals_and_redraws(result)[0].values()
    buckets = [result.prepared.known_by.bucket(int(p), "conversions", "") for p in result.prepared.conversions.person]
    values = replicate_weights()[:, buckets] @ np.array([i * 100 + 50 for i in range(30)])
    low, high = np.percentile(values / 10_000, [5, 95])
    assert bound(found["roas"].low) == low or abs(bound(found["roas"].low) - low) < 1e-12
    assert abs(bound(found["roas"].high) - high) < 1e-12


def garwood(n: int, level: float) -> tuple[float, float]:
    """The exact limits of a Poisson mean of which n were seen, by scipy.stats.chi2."""
    tail = (1 - level) / 2
    return stats.chi2.ppf(tail, 2 * n) / 2, stats.chi2.ppf(1 - tail, 2 * n + 2) / 2


@pytest.mark.parametrize(("n", "low", "high"), [(10, 4.795, 18.390), (50, 37.111, 65.919), (100, 81.364, 121.627)])
def test_published_poisson_limits(n, low, high):
    """F. Garwood, "Fiducial limits for the Poisson distribution", Biometrika 28, 1936, 95 % (values from memory)."""
    assert garwood(n, 0.95) == (pytest.approx(low, abs=6e-4), pytest.approx(high, abs=6e-4))


@pytest.mark.parametrize("n", [100, 400])
def test_limits_of_a_count_are_about_those_of_a_poisson_mean(n):
    """Where each person bought once, counting is Poisson: 90 % limits are within 3 % of the exact ones."""
    world = {
        "visits": [visit(i, tags("zeta", "cpc", "A"), person=f"p{i}") for i in range(n)],
        "conversions": [sale(i, "10.00", person=f"p{i}") for i in range(n)],
        "spend": [{"day": "2026-04-01", "platform": "Zeta", "campaign": "A", "cost": "100.00"}],
    }
    (found,) = intervals_and_redraws(weigh(into_core(world), plan_of(yardsticks=(Yardstick("linear", "linear"),))))[
        0
    ].values()
    low, high = garwood(n, 0.9)
    assert bound(found["conversions"].low) == pytest.approx(low, rel=0.03)
    assert bound(found["conversions"].high) == pytest.approx(high, rel=0.03)


def test_intervals_hold_the_truth_in_about_nine_of_ten_worlds():
    """80 worlds (200 by night) in which 2,000 people are reached, 3 % of them buy, for 20.00 to 60.00: 60 sales are expected."""
    chance = np.random.default_rng(20_260_401)
    held = {"conversions": 0, "roas": 0}
    plan = plan_of(yardsticks=(Yardstick("linear", "linear"),))
    worlds = much(80, 200)
    for _ in range(worlds):
        buyers = int(chance.binomial(2_000, 0.03))
        prices = chance.integers(2_000, 6_001, buyers)
        people = chance.choice(10**9, buyers, replace=False)
        world = {
            "visits": [visit(i, tags("zeta", "cpc", "A"), person=f"p{p}") for i, p in enumerate(people)],
            "conversions": [
                sale(i, str(Decimal(int(c)).scaleb(-2)), person=f"p{p}")
                for i, (p, c) in enumerate(zip(people, prices, strict=True))
            ],
            "spend": [{"day": "2026-04-01", "platform": "Zeta", "campaign": "A", "cost": "1000.00"}],
        }
        (found,) = intervals_and_redraws(weigh(into_core(world), plan))[0].values()
        for figure, truth in (("conversions", 60), ("roas", 60 * 40 / 1000)):
            held[figure] += found[figure].low <= truth <= found[figure].high
    for figure, times in held.items():
        assert 0.85 * worlds <= times <= 0.95 * worlds, (figure, held)
