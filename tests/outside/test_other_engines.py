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


@pytest.mark.parametrize("engine", [peers.with_duckdb, peers.with_polars])
def test_credited_conversions_and_value_agree(folder, engine):
    mine = ours.one_off(folder)
    conversions = 0
    for rule, (credit, value) in engine(folder).items():
        # Credits agree to 1e-9; value to the rounding of every share to whole minor units.
        np.testing.assert_allclose(mine[rule][0], credit, rtol=1e-9, atol=1e-9, err_msg=rule)
        np.testing.assert_allclose(mine[rule][1], value, atol=0.5 * len(ours.hold(folder).trails.touch) ** 0.5 + 5)
        conversions += int(mine[rule][0].sum())
    assert conversions > 1_000
