"""Connected components against SciPy's, which finds them by walking."""

from __future__ import annotations

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from scipy.sparse import coo_array
from scipy.sparse.csgraph import connected_components

from yardstick.core.trails.components import least_of_component


def by_scipy(a, b, count):
    graph = coo_array((np.ones(len(a), np.int8), (a, b)), shape=(count, count))
    label = connected_components(graph, directed=False)[1]
    least = np.full(count, count)
    np.minimum.at(least, label, np.arange(count))
    return least[label]


@given(st.integers(1, 40).flatmap(lambda n: st.tuples(st.just(n), st.lists(st.tuples(*[st.integers(0, n - 1)] * 2)))))
def test_each_node_is_called_by_the_least_it_is_connected_with(drawn):
    count, edges = drawn
    a, b = (np.array([edge[end] for edge in edges], np.int64) for end in (0, 1))
    assert least_of_component(a, b, count).tolist() == by_scipy(a, b, count).tolist()


def test_chains_and_stars_of_a_hundred_thousand():
    count = 100_000
    order = np.random.default_rng(5).permutation(count)
    for a, b in ((order[:-1], order[1:]), (np.full(count - 1, order[0]), order[1:])):
        assert (least_of_component(a, b, count) == 0).all()
