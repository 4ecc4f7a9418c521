"""Whole figures against two general-purpose engines: DuckDB and Polars computing the same credit with window functions."""

from __future__ import annotations

import sys
from pathlib import Path

import numpy as np
import pytest

sys.path.insert(0, str(Path(__file__).parents[2] / "bench"))

import ours
import peers
import world


@pytest.fixture(scope="module")
def folder(tmp_path_factory):
    made = tmp_path_factory.mktemp("world")
    world.write(made, 60_000, seed=11)
    return made


@pytest.mark.parametrize("engine", peers.WAYS.values(), ids=list(peers.WAYS))
def test_credited_conversions_and_value_agree(folder, engine):
    mine = ours.one_off(folder)
    held = ours.hold(folder)
    # Whole minor units: every share may be off by less than one of them.
    rounding = np.bincount(held.campaign[held.trails.touch], minlength=int(held.campaign.max()) + 1)
    conversions = 0
    for rule, (credit, value) in engine(folder).items():
        np.testing.assert_allclose(mine[rule][0], credit, rtol=1e-9, atol=1e-9, err_msg=rule)
        assert (np.abs(mine[rule][1] - value) <= rounding).all(), rule
        assert mine[rule][1].sum() == pytest.approx(value.sum(), abs=0.01)
        conversions += int(mine[rule][0].sum())
    assert conversions > 1_000
