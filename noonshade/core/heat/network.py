"""A thermal network that conserves energy: nodes, links, flows, boundaries, sources."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Literal

import numpy as np
from numpy.typing import ArrayLike, NDArray
from scipy.sparse import csc_matrix, diags_array
from scipy.sparse.linalg import SuperLU, splu

from noonshade.core.errors import ConvergenceError

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

BALANCE_TOLERANCE = 1e-6  # heat in against heat out, relative


@dataclass(slots=True)
class NetworkBuilder:
    """Collects the parts of a network of ``size`` nodes with ``controls`` controllable heaters.

    All methods take scalars or equally long arrays. Conductances and heat capacity flows (mass
    flow times specific heat) are in W/K and not negative.
    """

    size: int
    controls: int = 0
    _rows: list[Ints] = field(default_factory=list)
    _cols: list[Ints] = field(default_factory=list)
    _vals: list[Floats] = field(default_factory=list)
    diagonal: Floats = field(init=False)
    boundary: Floats = field(init=False)
    boundary_conductance: Floats = field(init=False)
    sources: Floats = field(init=False)
    capacity: Floats = field(init=False)

    def __post_init__(self) -> None:
        self.diagonal = np.zeros(self.size)
        self.boundary = np.zeros(self.size)
        self.boundary_conductance = np.zeros(self.size)
        self.sources = np.zeros((self.size, 1 + self.controls))
        self.capacity = np.zeros(self.size)

    def _add(self, rows: ArrayLike, cols: ArrayLike, vals: ArrayLike) -> None:
        """Entries off the diagonal; the diagonal itself is in ``diagonal``."""
        r = np.asarray(rows, dtype=np.int64)
        c = np.asarray(cols, dtype=np.int64)
        v = np.asarray(vals, dtype=np.float64)
        if not r.shape == c.shape == v.shape:
            r, c, v = np.broadcast_arrays(r, c, v)
        self._rows.append(r.ravel())
        self._cols.append(c.ravel())
        self._vals.append(v.ravel())

    def link(self, first: ArrayLike, second: ArrayLike, conductance: ArrayLike) -> None:
        """Conductance between two nodes, both ways.

        Parameters
        ----------
        first : ArrayLike
            First index or node.
        second : ArrayLike
            The other node, or nodes.
        conductance : ArrayLike
            Conductances, W/K.
        """
        g = np.asarray(conductance, dtype=np.float64)
        _accumulate(self.diagonal, first, g)
        _accumulate(self.diagonal, second, g)
        self._add(first, second, -g)
        self._add(second, first, -g)

    def flow(self, origin: ArrayLike, target: ArrayLike, capacity_flow: ArrayLike) -> None:
        """Air carried from one node to another, at the temperature of its origin.

        Parameters
        ----------
        origin : ArrayLike
            Node the flow comes from.
        target : ArrayLike
            Node the flow goes to.
        capacity_flow : ArrayLike
            Heat capacity of the flow, W/K.
        """
        c = np.asarray(capacity_flow, dtype=np.float64)
        _accumulate(self.diagonal, origin, c)
        self._add(target, origin, -c)

    def to_boundary(self, node: ArrayLike, conductance: ArrayLike, temperature_c: ArrayLike) -> None:
        """Conductance from a node to a fixed temperature.

        Parameters
        ----------
        node : ArrayLike
            Node, or nodes.
        conductance : ArrayLike
            Conductances, W/K.
        temperature_c : ArrayLike
            Temperature, °C.
        """
        g = np.asarray(conductance, dtype=np.float64)
        _accumulate(self.diagonal, node, g)
        _accumulate(self.boundary, node, g * np.asarray(temperature_c))
        _accumulate(self.boundary_conductance, node, g)

    def outflow(self, node: ArrayLike, capacity_flow: ArrayLike) -> None:
        """Air that leaves the enclosure from a node.

        Parameters
        ----------
        node : ArrayLike
            Node, or nodes.
        capacity_flow : ArrayLike
            Heat capacity of the flow, W/K.
        """
        c = np.asarray(capacity_flow, dtype=np.float64)
        _accumulate(self.diagonal, node, c)
        _accumulate(self.boundary_conductance, node, c)

    def inflow(self, node: ArrayLike, capacity_flow: ArrayLike, temperature_c: float) -> None:
        """Air of a fixed temperature that enters a node; outflows elsewhere must match it.

        Parameters
        ----------
        node : ArrayLike
            Node, or nodes.
        capacity_flow : ArrayLike
            Heat capacity of the flow, W/K.
        temperature_c : float
            Temperature, °C.
        """
        c = np.asarray(capacity_flow, dtype=np.float64)
        _accumulate(self.boundary, node, c * temperature_c)

    def source(self, node: ArrayLike, power_w: ArrayLike, control: int | None = None) -> None:
        """Heat put into a node, W; with ``control``, at the full power of that heater.

        Parameters
        ----------
        node : ArrayLike
            Node, or nodes.
        power_w : ArrayLike
            Power, W.
        control : int | None
            Index of the fraction that scales the flow, None for none.
        """
        column = 0 if control is None else 1 + control
        _accumulate(self.sources[:, column], node, np.asarray(power_w, dtype=np.float64))

    def fork(self) -> NetworkBuilder:
        """A copy to add more to; what was collected so far is shared, not copied again.

        Returns
        -------
        NetworkBuilder
            A copy to add more to.
        """
        other = NetworkBuilder(self.size, self.controls)
        rows, cols, vals = self._entries()
        other._rows, other._cols, other._vals = [rows], [cols], [vals]
        other.diagonal[:] = self.diagonal
        other.boundary[:] = self.boundary
        other.boundary_conductance[:] = self.boundary_conductance
        other.sources[:] = self.sources
        other.capacity[:] = self.capacity
        self._rows, self._cols, self._vals = [rows], [cols], [vals]
        return other

    def build(self, pattern: Pattern | None = None) -> Network:
        """Assemble; ``pattern`` is that of an earlier network with the same links in the same order.

        Parameters
        ----------
        pattern : Pattern | None
            Pattern of the matrix, None to find it.

        Returns
        -------
        Network
            Assemble.
        """
        return Network(
            *self._entries(),
            self.diagonal,
            self.boundary,
            self.boundary_conductance,
            self.sources,
            self.capacity,
            pattern,
        )

    def _entries(self) -> tuple[Ints, Ints, Floats]:
        if not self._rows:
            return np.zeros(0, dtype=np.int64), np.zeros(0, dtype=np.int64), np.zeros(0)
        return np.concatenate(self._rows), np.concatenate(self._cols), np.concatenate(self._vals)


@dataclass(frozen=True, slots=True)
class HeatBalance:
    """Heat put in and heat given to the boundary, W."""

    heat_in_w: float
    heat_out_w: float
    relative_error: float


@dataclass(frozen=True, slots=True)
class Pattern:
    """Where the entries of a network's matrix stand once its nodes are in an order of elimination.

    ``order`` (n,) are the nodes in that order; ``indptr`` and ``indices`` the compressed columns;
    ``slots`` (k,) and ``diagonal_slots`` (n,) which entry of them each link and each node adds to.
    """

    order: Ints
    indptr: Ints
    indices: Ints
    slots: Ints
    diagonal_slots: Ints

    @classmethod
    def of(cls, rows: Ints, cols: Ints, order: Ints) -> Pattern:
        """The pattern of links from ``cols`` to ``rows`` (k,) and of the diagonal.

        Parameters
        ----------
        rows : Ints
            Rows.
        cols : Ints
            Columns of the matrix entries.
        order : Ints
            Order of the matrix entries.

        Returns
        -------
        Pattern
            The pattern: order of elimination and where each entry goes.
        """
        n = order.size
        position = np.empty(n, dtype=np.int64)
        position[order] = np.arange(n)
        # Compressed columns: sorted by column, then by row.
        keys = np.concatenate([position[cols] * n + position[rows], position * n + position])
        found, where = np.unique(keys, return_inverse=True)
        indptr = np.searchsorted(found, np.arange(n + 1) * n)
        return cls(order, indptr, found % n, where[: rows.size], where[rows.size :])

    def matrix(self, vals: Floats, diagonal: Floats) -> csc_matrix:
        """The matrix (n, n) in elimination order, with the diagonal's values by node.

        Parameters
        ----------
        vals : Floats
            Values of the matrix entries.
        diagonal : Floats
            Diagonal of the matrix, W/K.

        Returns
        -------
        csc_matrix
            The sparse matrix (n, n), W/K.
        """
        size = self.indices.size
        data = np.bincount(self.slots, weights=vals, minlength=size).astype(np.float64)
        data += np.bincount(self.diagonal_slots, weights=diagonal, minlength=size)
        n = self.order.size
        return csc_matrix((data, self.indices, self.indptr), shape=(n, n))


@dataclass(frozen=True, slots=True)
class Network:
    """An assembled linear network of n nodes.

    ``rows``, ``cols``, ``vals`` (k,) are the entries off the diagonal of its matrix, W/K (repeated entries
    add up), and ``diagonal`` (n,) those on it; ``boundary`` (n,)
    W; ``sources`` (n, 1 + controls) W, column 0 always on and one column for each heater at full power;
    ``capacity`` (n,) J/K; ``pattern`` of the matrix, found afresh when None.
    """

    rows: Ints
    cols: Ints
    vals: Floats
    diagonal: Floats
    boundary: Floats
    boundary_conductance: Floats
    sources: Floats
    capacity: Floats
    pattern: Pattern | None = None

    @property
    def matrix(self) -> csc_matrix:
        """The conductance matrix (n, n), W/K."""
        n = self.capacity.size
        links = csc_matrix((self.vals, (self.rows, self.cols)), shape=(n, n))
        return csc_matrix(links + diags_array(self.diagonal))

    def found_pattern(self) -> Pattern:
        """The pattern of this network, in an order that makes little fill.

        Returns
        -------
        Pattern
            The pattern, computed once for the same links.
        """
        if self.pattern is not None:
            return self.pattern
        # By place and not by value: a flow that is none now may be one in the next round.
        n = self.capacity.size
        links = csc_matrix((np.full(self.rows.size, -1.0), (self.rows, self.cols)), shape=(n, n))
        dominant = csc_matrix(links + diags_array(np.full(n, 1.0 + self.rows.size)))
        order: Ints = np.argsort(_factorise(dominant, "MMD_AT_PLUS_A").perm_c)
        return Pattern.of(self.rows, self.cols, order)

    def _solver(self, extra_diagonal: Floats | None = None) -> Callable[[Floats], Floats]:
        pattern = self.found_pattern()
        order = pattern.order
        diagonal = self.diagonal if extra_diagonal is None else self.diagonal + extra_diagonal
        factors = _factorise(pattern.matrix(self.vals, diagonal), "NATURAL")

        def solve(load: Floats) -> Floats:
            solution = np.empty_like(load)
            solution[order] = factors.solve(np.ascontiguousarray(load[order]))
            return solution

        return solve

    def responses(self) -> Floats:
        """Steady temperatures (n, 1 + controls): the base state, and the rise by each heater.

        Returns
        -------
        Floats
            Steady temperatures (n, 1 + controls).

        Raises
        ------
        ConvergenceError
            If an argument is out of its range.
        """
        load = self.sources.copy()
        load[:, 0] += self.boundary
        solution = self._solver()(load)
        if not np.all(np.isfinite(solution)):
            raise ConvergenceError("the heat network has no finite steady state")
        return solution

    def steady(self, fractions: ArrayLike = ()) -> Floats:
        """Steady temperatures (n,) in °C with the heaters at fractions of full power.

        Parameters
        ----------
        fractions : ArrayLike
            Share that each part takes.

        Returns
        -------
        Floats
            Temperatures (n,), °C.
        """
        response = self.responses()
        return np.asarray(response @ self._weights(fractions))

    def balance(self, temperature_c: Floats, fractions: ArrayLike = ()) -> HeatBalance:
        """Heat in against heat out at a steady state.

        Parameters
        ----------
        temperature_c : Floats
            Temperatures, °C.
        fractions : ArrayLike
            Share that each part takes.

        Returns
        -------
        HeatBalance
            Heat in and out, W, and the relative error.

        Raises
        ------
        ConvergenceError
            If they differ by more than ``BALANCE_TOLERANCE`` of the heat in (or of the heat that
            crosses the boundary at 1 K, where nothing is put in).
        """
        heat_in = float(np.sum(self.sources @ self._weights(fractions)))
        heat_out = float(self.boundary_conductance @ temperature_c - np.sum(self.boundary))
        scale = max(abs(heat_in), float(np.sum(self.boundary_conductance)), 1e-12)
        error = abs(heat_in - heat_out) / scale
        if not error <= BALANCE_TOLERANCE:
            raise ConvergenceError(f"heat in {heat_in:.6g} W and heat out {heat_out:.6g} W do not balance")
        return HeatBalance(heat_in, heat_out, error)

    def stepper(self, seconds: float) -> Callable[[Floats], Floats]:
        """Solver of one backward Euler step: temperatures (n,) from a load (n,) that holds
        ``boundary``, sources, and capacity/seconds times the temperatures before.

        Parameters
        ----------
        seconds : float
            Seconds.

        Returns
        -------
        Callable[[Floats], Floats]
            Solver of one backward Euler step.
        """
        return self._solver(self.capacity / seconds)

    def advance(
        self,
        temperature_c: Floats,
        seconds: float,
        fractions: ArrayLike = (),
        tolerance_k: float = 1e-3,
    ) -> Floats:
        """Temperatures after some time with constant coefficients and sources.

        Backward Euler with step doubling and extrapolation (second order, stable at any step),
        halving the step until the two answers agree to ``tolerance_k``. Nodes without capacity
        follow at once.

        Parameters
        ----------
        temperature_c : Floats
            Temperatures, °C.
        seconds : float
            Seconds.
        fractions : ArrayLike
            Share that each part takes.
        tolerance_k : float
            How far temperatures may be off, K.

        Returns
        -------
        Floats
            Temperatures (n,) at the end, °C.
        """
        load = self.boundary + self.sources @ self._weights(fractions)
        state = np.asarray(temperature_c, dtype=np.float64)
        left = float(seconds)
        step = left
        solvers: dict[float, Callable[[Floats], Floats]] = {}

        def euler(start: Floats, dt: float) -> Floats:
            if dt not in solvers:
                solvers[dt] = self._solver(self.capacity / dt)
            return solvers[dt](load + self.capacity / dt * start)

        while left > 0:
            step = min(step, left)
            whole = euler(state, step)
            half = euler(euler(state, step / 2), step / 2)
            error = float(np.max(np.abs(half - whole), initial=0.0))
            if error > tolerance_k and step > 1e-6 * seconds:
                step /= 2
                continue
            state = 2.0 * half - whole
            left -= step
            if left < 1e-9 * seconds:
                break
            if error < tolerance_k / 8:
                step *= 2
        return state

    def _weights(self, fractions: ArrayLike) -> Floats:
        given = np.atleast_1d(np.asarray(fractions, dtype=np.float64))
        if given.size != self.sources.shape[1] - 1:
            raise ValueError(f"{self.sources.shape[1] - 1} heater fractions expected, {given.size} given")
        return np.concatenate([[1.0], given])


def _accumulate(target: Floats, node: ArrayLike, values: Floats) -> None:
    where = np.asarray(node, dtype=np.int64).ravel()
    given = values.ravel() if values.shape == np.shape(node) else np.broadcast_to(values, where.shape)
    target += np.bincount(where, weights=given, minlength=target.size)


def _factorise(matrix: csc_matrix, ordering: Literal["NATURAL", "MMD_AT_PLUS_A"]) -> SuperLU:
    # The matrix is diagonally dominant, so pivots stay on the diagonal and the order holds.
    return splu(matrix, permc_spec=ordering, diag_pivot_thresh=0.0, options={"SymmetricMode": True})
