"""Connected components of a graph, by hooking and jumping."""

from __future__ import annotations

import numpy as np

from ..base.columns import Ints


def least_of_component(a: Ints, b: Ints, count: int) -> Ints:
    """The least node that each node is connected with.

    Parameters
    ----------
    a, b : (n,) int64, the ends of the edges, nodes from 0
    count : number of nodes

    Returns
    -------
    (count,) int64; a node without edges is its own least

    Notes
    -----
    Each round hooks the larger root of an edge to the least it meets, then lets every node jump to its root: after two
    rounds at most about half of a component's roots are left (Shiloach and Vishkin 1982, *An O(log n) parallel
    connectivity algorithm*; the form with minima as in Zhang, Azad and Buluc 2020, *Parallel algorithms for finding
    connected components using linear algebra*).

    Examples
    --------
    >>> least_of_component(np.array([3, 1]), np.array([1, 4]), 5).tolist()
    [0, 1, 2, 1, 1]
    """
    least = np.arange(count, dtype=np.int64)
    while len(a):
        np.minimum.at(least, np.maximum(a, b), np.minimum(a, b))
        while not np.array_equal(jumped := least[least], least):
            least = jumped
        a, b = least[a], least[b]
        apart = a != b
        a, b = a[apart], b[apart]
    return least
