"""What of the fundamental matrix of an absorbing chain is asked for, when the chain may have very many states.

Up to a size the matrix is inverted whole; beyond it `sparse_chains` does the same, which is loaded then only.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
import numpy.typing as npt

from ..base.columns import Ints

Floats = npt.NDArray[np.float64]
WIDEST_INVERSE = 2000
"""So many states are inverted at once; beyond it states are taken out first."""


@dataclass(frozen=True)
class Fundamental:
    """Of the inverse N of I - Q: its diagonal, its first row, and N x a vector."""

    own: Floats
    visits: Floats
    reach: Floats


def with_diagonal(rows: Ints, columns: Ints, values: Floats, size: int) -> Any:
    """(size, size) the identity plus some values, one a place; sparse where it is large."""
    if size <= WIDEST_INVERSE:
        out = np.eye(size)
        out[rows, columns] += values
        return out
    from .sparse_chains import sparse_with_diagonal

    return sparse_with_diagonal(rows, columns, values, size)


def fundamental(stays: Any, converts: Floats) -> Fundamental:
    """Diagonal, first row and product of an inverse.

    Parameters
    ----------
    stays : (n, n), I - Q, with a full diagonal
    converts : (n,) the vector N is multiplied with

    Returns
    -------
    Fundamental
    """
    if isinstance(stays, np.ndarray):
        inverse = np.linalg.inv(stays)
        return Fundamental(np.diag(inverse), inverse[0], inverse @ converts)
    from .sparse_chains import of_sparse

    return Fundamental(*of_sparse(stays, converts, WIDEST_INVERSE))
