"""Elimination in a fixed order: a network is solved some thousand times, each time with the same links.

A general sparse solver finds anew, at each call, which entries its factors have; with that known, the
arithmetic alone takes a third of its time. Pivots stay on the diagonal: a network of conductances and flows
has a dominant one, whatever its values.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csc_array, csc_matrix, diags_array
from scipy.sparse.linalg import splu

from noonshade.core.compiled import compiled_exactly

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

# Time of an operation in full blocks against one that looks up where its entry is. Measured.
_DENSE_SHARE = 0.35


class Columns(NamedTuple):
    """Where entries stand: in column j in ``rows[starts[j]:starts[j + 1]]``, ascending."""

    starts: Ints
    rows: Ints


class Factors(NamedTuple):
    """Factors L and U of a matrix: entries of L below and of U above the diagonal, and the diagonal of U.

    ``corner`` (m, m) holds both factors of the last m rows and columns, in which few entries are missing,
    by columns: row j is column j of L below the diagonal and of U up to it.
    """

    lower: Floats
    upper: Floats
    diagonal: Floats
    corner: Floats


@dataclass(frozen=True, slots=True)
class Elimination:
    """The order in which n unknowns are eliminated, and where the factors of their matrix have entries.

    ``order`` (n,) are the unknowns in that order; ``matrix``, ``lower`` and ``upper`` where the matrix and
    its factors have entries, by position in it; the unknowns from ``dense_from`` on are kept as a block.
    """

    order: Ints
    matrix: Columns
    lower: Columns
    upper: Columns
    dense_from: int

    @classmethod
    def of(cls, rows: Ints, cols: Ints, size: int) -> Elimination:
        """An order that makes little fill.

        Parameters
        ----------
        rows, cols : (k,) int
            Where the matrix has entries off its diagonal; entries may be repeated.
        size : int
            Number of unknowns.

        Returns
        -------
        Elimination
            The order: minimum degree, by place and not by value, as a flow that is none now may be one in
            the next round.
        """
        links = csc_matrix((np.full(rows.size, -1.0), (rows, cols)), shape=(size, size))
        dominant = csc_matrix(links + diags_array(np.full(size, 1.0 + rows.size)))
        found = splu(
            dominant, permc_spec="MMD_AT_PLUS_A", diag_pivot_thresh=0.0, options={"SymmetricMode": True}
        )
        order: Ints = np.argsort(found.perm_c)
        position = np.empty(size, dtype=np.int64)
        position[order] = np.arange(size)
        entries = np.concatenate([position[cols] * size + position[rows], np.arange(size) * (size + 1)])
        unique = np.unique(entries)
        own = _columns(unique // size, unique % size, size)
        # The diagonal is the first entry of each column of L and the last one of U.
        lower, upper = _strict(found.L, 0), _strict(found.U, -1)
        return cls(order, own, lower, upper, _dense_from(lower, upper))

    def factors(self, values: Floats) -> Factors:
        """Factors of a matrix.

        Parameters
        ----------
        values : (k,) float64
            Its entries, in the order of ``matrix``.

        Returns
        -------
        Factors
            To solve it with.
        """
        return Factors(*_factorise(*self.matrix, values, *self.lower, *self.upper, self.dense_from))

    def solve(self, factors: Factors, load: Floats) -> Floats:
        """The unknowns for right-hand sides.

        Parameters
        ----------
        factors : Factors
            Of the matrix.
        load : (n,) or (n, m) float64
            Right-hand sides.

        Returns
        -------
        (n,) or (n, m) float64
            Solutions.
        """
        if load.ndim == 1:
            return solved(self.order, *self.lower, *self.upper, *factors, self.dense_from, load)
        columns = [self.solve(factors, np.ascontiguousarray(column)) for column in load.T]
        return np.column_stack(columns)


def _columns(col: Ints, row: Ints, size: int) -> Columns:
    return Columns(np.searchsorted(col, np.arange(size + 1)), row.astype(np.uint32))


def _strict(factor: csc_array, diagonal: int) -> Columns:
    """Where a factor has entries off its diagonal, which is the first (0) or last (-1) of each column."""
    factor.sort_indices()
    starts = factor.indptr.astype(np.int64)
    ends = starts[:-1] if diagonal == 0 else starts[1:] - 1
    rows = np.delete(factor.indices, ends)
    return Columns(starts - np.arange(starts.size), rows.astype(np.uint32))


def _dense_from(lower: Columns, upper: Columns) -> int:
    """First unknown of the block: where the time of what comes before it and of the block is least."""
    size = lower.starts.size - 1
    by_pivot = np.diff(lower.starts) * np.bincount(upper.rows, minlength=size)
    before = np.concatenate([[0.0], np.cumsum(2.0 * by_pivot)])
    left = size - np.arange(size + 1)
    return int(np.argmin(before + _DENSE_SHARE * 2.0 / 3.0 * left.astype(np.float64) ** 3))


@compiled_exactly
def _factorise_block(block: Floats) -> None:  # pragma: no cover - compiled
    """Both factors of a full block in its place, four pivots at a time, so that rows are fetched less."""
    n = block.shape[0]
    for first in range(0, n, 4):
        last = min(first + 4, n)
        for k in range(first, last):
            inverse = 1.0 / block[k, k]
            for i in range(k + 1, n):
                factor = block[i, k] * inverse
                block[i, k] = factor
                for j in range(k + 1, last):
                    block[i, j] -= factor * block[k, j]
            for i in range(k + 1, last):
                factor = block[i, k]
                for j in range(last, n):
                    block[i, j] -= factor * block[k, j]
        if last == n:
            break
        one, two, three, four = block[first], block[first + 1], block[first + 2], block[first + 3]
        for i in range(last, n):
            row = block[i]
            a, b, c, d = row[first], row[first + 1], row[first + 2], row[first + 3]
            for j in range(last, n):
                row[j] -= a * one[j] + b * two[j] + c * three[j] + d * four[j]


@compiled_exactly
def _factorise(
    starts: Ints,
    rows: Ints,
    values: Floats,
    lower_starts: Ints,
    lower_rows: Ints,
    upper_starts: Ints,
    upper_rows: Ints,
    dense_from: int,
) -> tuple[Floats, Floats, Floats, Floats]:  # pragma: no cover - compiled
    n = starts.size - 1
    block = n - dense_from
    lower, upper = np.empty(lower_starts[dense_from]), np.empty(upper_rows.size)
    diagonal, corner = np.empty(dense_from), np.zeros((block, block))
    column = np.zeros(n)
    for j in range(n):
        for q in range(starts[j], starts[j + 1]):
            column[rows[q]] = values[q]
        for q in range(upper_starts[j], upper_starts[j + 1]):
            k = upper_rows[q]
            if k >= dense_from:
                break
            factor = column[k]
            upper[q] = factor
            column[k] = 0.0
            if factor != 0.0:
                for r in range(lower_starts[k], lower_starts[k + 1]):
                    column[lower_rows[r]] -= lower[r] * factor
        if j < dense_from:
            pivot = column[j]
            diagonal[j] = pivot
            column[j] = 0.0
            inverse = 1.0 / pivot
            for r in range(lower_starts[j], lower_starts[j + 1]):
                lower[r] = column[lower_rows[r]] * inverse
                column[lower_rows[r]] = 0.0
        else:
            for i in range(block):
                corner[i, j - dense_from] = column[dense_from + i]
                column[dense_from + i] = 0.0
    _factorise_block(corner)
    return lower, upper, diagonal, corner.T.copy()


@compiled_exactly
def solved(
    order: Ints,
    lower_starts: Ints,
    lower_rows: Ints,
    upper_starts: Ints,
    upper_rows: Ints,
    lower: Floats,
    upper: Floats,
    diagonal: Floats,
    corner: Floats,
    dense_from: int,
    load: Floats,
) -> Floats:  # pragma: no cover - compiled
    """Solve for one right-hand side with factors.

    Parameters
    ----------
    order, lower_starts, lower_rows, upper_starts, upper_rows, dense_from
        As ``Elimination`` has them.
    lower, upper, diagonal, corner : Floats
        As ``Factors`` has them.
    load : (n,) float64
        The right-hand side.

    Returns
    -------
    (n,) float64
        The solution.
    """
    n = order.size
    x = np.empty(n)
    for i in range(n):
        x[i] = load[order[i]]
    for j in range(dense_from):
        value = x[j]
        for r in range(lower_starts[j], lower_starts[j + 1]):
            x[lower_rows[r]] -= lower[r] * value
    block = n - dense_from
    # Column by column: each takes the same from many rows, which a processor does at once.
    last = x[dense_from:]
    for j in range(block):
        value, column = last[j], corner[j]
        for i in range(j + 1, block):
            last[i] -= column[i] * value
    for j in range(block - 1, -1, -1):
        column = corner[j]
        value = last[j] / column[j]
        last[j] = value
        for i in range(j):
            last[i] -= column[i] * value
    for j in range(n - 1, -1, -1):
        if j < dense_from:
            x[j] /= diagonal[j]
        value = x[j]
        for q in range(upper_starts[j], upper_starts[j + 1]):
            if upper_rows[q] >= dense_from:
                break
            x[upper_rows[q]] -= upper[q] * value
    found = np.empty(n)
    for i in range(n):
        found[order[i]] = x[i]
    return found
