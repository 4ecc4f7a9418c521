"""Entries of the inverse of a large sparse matrix, as the fundamental matrix of a chain of many states needs them.

Most states of a long list of campaigns have few neighbours. States none of which follows another are taken out of the
chain together, round by round, until the rest is small enough to be inverted whole; going back, each state finds its
place on the diagonal from those of its neighbours.

References
----------
K. Takahashi, J. Fagan, M.-S. Chin, "Formation of a sparse bus impedance matrix and its application to short circuit
study", 1973: entries of an inverse where the matrix itself has some need no others.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
import numpy.typing as npt
from scipy.sparse import coo_array, csr_array

from ..base.columns import Flags, Ints

Floats = npt.NDArray[np.float64]
FEWEST_OUT = 0.05
"""A round that takes out a smaller part is not worth its while."""
MOST_NEIGHBOURS = 200
"""A state with more neighbours is not taken out: each pair of them becomes a move."""


@dataclass(frozen=True)
class _Entries:
    """Entries of an inverse: all of it, or those at sorted places row x size + column."""

    size: int
    places: Ints | None
    values: Floats

    def at(self, rows: Ints, columns: Ints) -> Floats:
        if self.places is None:
            found: Floats = self.values[rows, columns]
            return found
        return self.values[np.searchsorted(self.places, rows * self.size + columns)]


def sparse_with_diagonal(rows: Ints, columns: Ints, values: Floats, size: int) -> Any:
    """(size, size) sparse: the identity plus some values, one a place."""
    places = np.arange(size)
    rows, columns = np.concatenate([places, rows]), np.concatenate([places, columns])
    return coo_array((np.concatenate([np.ones(size), values]), (rows, columns)), shape=(size, size))


def of_sparse(stays: Any, converts: Floats, widest: int) -> tuple[Floats, Floats, Floats]:
    """Of the inverse N of a sparse matrix: its diagonal, its first row, and N x a vector.

    Parameters
    ----------
    stays : (n, n), with a full diagonal
    converts : (n,) the vector N is multiplied with
    widest : so many states are inverted whole
    """
    first = np.zeros(stays.shape[0])
    first[0] = 1
    entries, visits, reach = _inverted(csr_array(stays), first, converts, widest)
    places = np.arange(len(first))
    return entries.at(places, places), visits, reach


def _inverted(a: Any, before: Floats, after: Floats, widest: int) -> tuple[_Entries, Floats, Floats]:
    """The entries of the inverse of `a` where its transpose has some, before x inverse, and inverse x after."""
    size = a.shape[0]
    out = _taken_out(a) if size > widest else np.zeros(size, np.bool_)
    if not out.any():
        inverse = np.linalg.inv(a.toarray())
        return _Entries(size, None, inverse), before @ inverse, inverse @ after
    r, c = np.flatnonzero(out), np.flatnonzero(~out)
    to, back = csr_array(a[r][:, c]), csr_array(a[c][:, r])  # from those taken out to the rest, and from it to them
    one = 1 / a.diagonal()[r]
    rest = csr_array(a[c][:, c] - back @ (to.multiply(one[:, None])))
    of_rest, visits_rest, reach_rest = _inverted(
        rest, before[c] - to.T @ (one * before[r]), after[c] - back @ (one * after[r]), widest
    )
    visits, reach = np.empty(size), np.empty(size)
    visits[c], reach[c] = visits_rest, reach_rest
    visits[r] = one * (before[r] - back.T @ visits_rest)
    reach[r] = one * (after[r] - to @ reach_rest)
    return _joined(a, r, c, one, to, back, of_rest), visits, reach


def _joined(a: Any, r: Ints, c: Ints, one: Floats, to: Any, back: Any, of_rest: _Entries) -> _Entries:
    """Entries of the whole from those of the rest.

    Notes
    -----
    With N the inverse of the rest: N[r, c] = - to[r] N[:, c] / a[r, r], N[c, r] = - N[c] back[:, r] / a[r, r], and
    N[r, r] = (1 - to[r] N[:, r]) / a[r, r]. All that is asked for of N lies between neighbours of r.
    """
    size = a.shape[0]
    into = csr_array(back.T)  # by state taken out: from where it is come to
    follow, came = np.diff(to.indptr), np.diff(into.indptr)
    state = np.repeat(np.arange(len(r)), follow * came)
    begin = np.concatenate([[0], np.cumsum(follow * came)])
    inner = np.arange(begin[-1]) - begin[state]
    i = to.indptr[:-1][state] + inner // came[state]
    j = into.indptr[:-1][state] + inner % came[state]
    between = of_rest.at(to.indices[i].astype(np.int64), into.indices[j].astype(np.int64))
    down = -np.bincount(j, to.data[i] * between, into.nnz) * np.repeat(one, came)  # N[r, c] for c that come to r
    up = -np.bincount(i, into.data[j] * between, to.nnz) * np.repeat(one, follow)  # N[c, r] for c that follow r
    of_follow, of_came = np.repeat(np.arange(len(r)), follow), np.repeat(np.arange(len(r)), came)
    own = one * (1 - np.bincount(of_follow, to.data * up, len(r)))
    inside = coo_array(a[c][:, c])
    rows = np.concatenate([r, r[of_came], c[to.indices], c[inside.col]])
    columns = np.concatenate([r, c[into.indices], r[of_follow], c[inside.row]])
    within = of_rest.at(inside.col.astype(np.int64), inside.row.astype(np.int64))
    places = rows.astype(np.int64) * size + columns
    order = np.argsort(places)
    return _Entries(size, places[order], np.concatenate([own, down, up, within])[order])


def _taken_out(a: Any) -> Flags:
    """(n,) bool: states none of which follows another, those with the fewest neighbours first."""
    pattern = csr_array((np.ones(a.nnz), a.indices, a.indptr), a.shape)
    beside = csr_array(pattern + pattern.T)
    count = np.diff(beside.indptr)
    out, barred = np.zeros(a.shape[0], np.bool_), count > MOST_NEIGHBOURS
    for state in np.argsort(count, kind="stable").tolist():
        if not barred[state]:
            out[state] = True
            barred[beside.indices[beside.indptr[state] : beside.indptr[state + 1]]] = True
    return out if out.sum() > FEWEST_OUT * len(out) else np.zeros(len(out), np.bool_)
