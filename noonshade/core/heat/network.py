"""A thermal network that conserves energy: nodes, links, flows, boundaries, sources."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import partial
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import ArrayLike, NDArray

from noonshade.core.errors import ConvergenceError
from noonshade.core.heat.elimination import Elimination, Factors

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

BALANCE_TOLERANCE = 1e-6  # heat in against heat out, relative


class NetworkBuilder:
    """Collects the parts of a network of ``size`` nodes with ``controls`` controllable heaters.

    All methods take scalars or equally long arrays. Conductances and heat capacity flows (mass
    flow times specific heat) are in W/K and not negative. Parts are kept as they come and summed by
    ``build``.

    Parameters
    ----------
    size : int
        Number of nodes.
    controls : int
        Number of heaters whose power is set as a fraction of full.
    """

    def __init__(self, size: int, controls: int = 0) -> None:
        self.size, self.controls = size, controls
        self._links: list[tuple[Ints, Ints, Floats]] = []
        self._flows: list[tuple[Ints, Ints, Floats]] = []
        # Node, conductance to the boundary, and heat the boundary gives at 0 °C of the node.
        self._ends: list[tuple[Ints, Floats, Floats]] = []
        self._base: _Sums | None = None
        self.sources = np.zeros((size, 1 + controls))
        self.capacity = np.zeros(size)

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
        self._links.append(_parts(first, second, conductance))

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
        self._flows.append(_parts(origin, target, capacity_flow))

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
        where, given, heat = np.broadcast_arrays(node, g, g * np.asarray(temperature_c))
        self._ends.append((where.ravel(), given.ravel(), heat.ravel()))

    def outflow(self, node: ArrayLike, capacity_flow: ArrayLike) -> None:
        """Air that leaves the enclosure from a node.

        Parameters
        ----------
        node : ArrayLike
            Node, or nodes.
        capacity_flow : ArrayLike
            Heat capacity of the flow, W/K.
        """
        self.to_boundary(node, capacity_flow, 0.0)

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
        heat = np.asarray(capacity_flow, dtype=np.float64) * temperature_c
        where, heat = np.broadcast_arrays(node, heat)
        self._ends.append((where.ravel(), np.zeros(where.size), heat.ravel()))

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
        where, given = np.broadcast_arrays(node, np.asarray(power_w, dtype=np.float64))
        self.sources[:, column] += np.bincount(where.ravel(), given.ravel(), self.size)

    def fork(self) -> NetworkBuilder:
        """A copy to add more to; what was collected so far is shared, not copied again.

        Returns
        -------
        NetworkBuilder
            A copy to add more to.
        """
        self._base = self._sums(None)
        self._links, self._flows, self._ends = [], [], []
        other = NetworkBuilder(self.size, self.controls)
        other._base = self._base
        other.sources[:] = self.sources
        other.capacity[:] = self.capacity
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
            The network.
        """
        sums = self._sums(pattern)
        return Network(*sums, self.sources, self.capacity, pattern)

    def _sums(self, pattern: Pattern | None) -> _Sums:
        """All parts so far; where the entries stand is taken from a pattern of the same ones."""
        base = self._base
        if base is None:
            none, zero = np.zeros(0, dtype=np.int64), np.zeros(self.size)
            base = _Sums(none, none, np.zeros(0), zero, zero, zero)
        if not (self._links or self._flows or self._ends):
            return base
        (a, b, g), (origin, target, c) = _joined(self._links), _joined(self._flows)
        node, to_boundary, heat = _joined(self._ends)
        if pattern is None:
            rows = np.concatenate([base.rows, a, b, target])
            cols = np.concatenate([base.cols, b, a, origin])
        else:
            rows, cols = pattern.rows, pattern.cols
        n = self.size
        conductance = np.bincount(node, to_boundary, n)
        diagonal = np.bincount(np.concatenate([a, b, origin]), np.concatenate([g, g, c]), n)
        return _Sums(
            rows,
            cols,
            np.concatenate([base.vals, -g, -g, -c]),
            base.diagonal + diagonal + conductance,
            base.boundary + np.bincount(node, heat, n),
            base.boundary_conductance + conductance,
        )


class _Sums(NamedTuple):
    """What a builder has collected, as ``Network`` has it."""

    rows: Ints
    cols: Ints
    vals: Floats
    diagonal: Floats
    boundary: Floats
    boundary_conductance: Floats


def _parts(first: ArrayLike, second: ArrayLike, value: ArrayLike) -> tuple[Ints, Ints, Floats]:
    a, b, g = np.asarray(first), np.asarray(second), np.asarray(value, dtype=np.float64)
    if not a.shape == b.shape == g.shape:
        a, b, g = np.broadcast_arrays(a, b, g)
    return (a, b, g) if a.ndim == 1 else (a.ravel(), b.ravel(), g.ravel())


def _joined(parts: list[tuple[NDArray[Any], NDArray[Any], NDArray[Any]]]) -> list[NDArray[Any]]:
    """Each member of the parts in one array."""
    if not parts:
        none = np.zeros(0, dtype=np.int64)
        return [none, none, np.zeros(0)]
    return [np.concatenate(members) for members in zip(*parts, strict=True)]


@dataclass(frozen=True, slots=True)
class HeatBalance:
    """Heat put in and heat given to the boundary, W."""

    heat_in_w: float
    heat_out_w: float
    relative_error: float


@dataclass(frozen=True, slots=True)
class Pattern:
    """Where the links of a network stand in its matrix, and how that is eliminated.

    ``rows`` and ``cols`` (k,) are the nodes of each link; ``slots`` (k,) and ``diagonal_slots`` (n,) which
    entry of ``elimination.matrix`` each link and each node adds to.
    """

    rows: Ints
    cols: Ints
    slots: Ints
    diagonal_slots: Ints
    elimination: Elimination

    @classmethod
    def of(cls, rows: Ints, cols: Ints, size: int) -> Pattern:
        """The pattern of links from ``cols`` to ``rows`` (k,) and of the diagonal.

        Parameters
        ----------
        rows : Ints
            Rows.
        cols : Ints
            Columns of the matrix entries.
        size : int
            Number of nodes.

        Returns
        -------
        Pattern
            The pattern: order of elimination and where each entry goes.
        """
        elimination = Elimination.of(rows, cols, size)
        position = np.empty(size, dtype=np.int64)
        position[elimination.order] = np.arange(size)
        starts, entries = elimination.matrix
        column = np.repeat(np.arange(size), np.diff(starts))
        keys = column * size + entries
        slots = np.searchsorted(keys, position[cols] * size + position[rows])
        return cls(rows, cols, slots, np.searchsorted(keys, position * (size + 1)), elimination)

    def values(self, vals: Floats, diagonal: Floats) -> Floats:
        """Values of the matrix's entries in elimination order.

        Parameters
        ----------
        vals : (k,) float64
            Of each link.
        diagonal : (n,) float64
            Of each node, W/K.

        Returns
        -------
        float64
            Values, W/K.
        """
        size = self.elimination.matrix.rows.size
        found = np.bincount(self.slots, weights=vals, minlength=size).astype(np.float64)
        found[self.diagonal_slots] += diagonal
        return found


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

    def found_pattern(self) -> Pattern:
        """The pattern of this network, in an order that makes little fill.

        Returns
        -------
        Pattern
            The pattern, computed once for the same links.
        """
        return self.pattern or Pattern.of(self.rows, self.cols, self.capacity.size)

    def solver(self, extra_diagonal: Floats | None = None) -> Callable[[Floats], Floats]:
        """What solves the network for a load.

        Parameters
        ----------
        extra_diagonal : (n,) float64, optional
            Added to the diagonal, W/K.

        Returns
        -------
        callable
            From loads (n,) or (n, m), W, to temperatures of the same shape.
        """
        elimination, factors = self.factorised(extra_diagonal)
        return partial(elimination.solve, factors)

    def factorised(self, extra_diagonal: Floats | None = None) -> tuple[Elimination, Factors]:
        """Factors of the network's matrix.

        Parameters
        ----------
        extra_diagonal : (n,) float64, optional
            Added to the diagonal, W/K.

        Returns
        -------
        tuple of Elimination and Factors
            The order of elimination, and the factors in it.
        """
        pattern = self.found_pattern()
        diagonal = self.diagonal if extra_diagonal is None else self.diagonal + extra_diagonal
        return pattern.elimination, pattern.elimination.factors(pattern.values(self.vals, diagonal))

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
        solution = self.solver()(self._loads())
        if not np.all(np.isfinite(solution)):
            raise ConvergenceError("the heat network has no finite steady state")
        return solution

    def _loads(self) -> Floats:
        """Right-hand sides (n, 1 + controls), W: what is always there, and each heater at full power."""
        loads = self.sources.copy()
        loads[:, 0] += self.boundary
        return loads

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
                solvers[dt] = self.solver(self.capacity / dt)
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
