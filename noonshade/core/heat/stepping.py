"""One step of the simulated day, past the linear solve: compiled, since it is done some thousand times."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from noonshade.core.compiled import compiled_exactly
from noonshade.core.heat.elimination import solved
from noonshade.core.moisture.vapour import saturated

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
Flags = NDArray[np.bool_]
# What ``implicit_step`` takes from ``order`` on.
FactorArrays = tuple[Ints, Ints, Ints, Ints, Ints, Floats, Floats, Floats, Floats, int]


@compiled_exactly
def implicit_step(
    constant: Floats,
    sources: Floats,
    power: Floats,
    stored: Floats,
    conductance: Floats,
    before_c: Floats,
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
) -> tuple[Floats, float, float, float]:  # pragma: no cover - compiled
    """A backward Euler step, with the heat it takes in, stores and gives to all boundaries.

    Parameters
    ----------
    constant : (n,) float64
        Heat that does not change during the step, W.
    sources : (n, 1 + f) float64
        Heat of each fixture at full power from column 1 on, W.
    power : (f,) float64
        Fractions of full power.
    stored : (n,) float64
        Heat capacity over the step, W/K.
    conductance : (n,) float64
        To all boundaries, W/K.
    before_c : (n,) float64
        Temperatures at the start of the step, °C.
    order, lower_starts, lower_rows, upper_starts, upper_rows, dense_from
        As ``elimination.Elimination`` has them.
    lower, upper, diagonal, corner : Floats
        Factors, as ``elimination.Factors`` has them.

    Returns
    -------
    tuple of (n,) float64 and three floats
        Temperatures at the end, °C; heat taken in (``constant`` and sources), stored heat, and heat to all
        boundaries as if they were at 0 °C, W.
    """
    load, taken = np.empty(constant.size), 0.0
    for i in range(constant.size):
        heat = constant[i]
        for k in range(power.size):
            heat += sources[i, k + 1] * power[k]
        taken += heat
        load[i] = heat + stored[i] * before_c[i]
    after = solved(
        order,
        lower_starts,
        lower_rows,
        upper_starts,
        upper_rows,
        lower,
        upper,
        diagonal,
        corner,
        dense_from,
        load,
    )
    gained, given = 0.0, 0.0
    for i in range(after.size):
        gained += stored[i] * (after[i] - before_c[i])
        given += conductance[i] * after[i]
    return after, taken, gained, given


@compiled_exactly
def furthest_moved(
    now_c: Floats, then_c: Floats, cells: int
) -> tuple[float, float]:  # pragma: no cover - compiled
    """Largest change of the air and of all else, K.

    Parameters
    ----------
    now_c, then_c : (n,) float64
        Temperatures now and then, °C.
    cells : int
        How many cells of air there are; they come first.

    Returns
    -------
    tuple of float
        The change of the air, and of all else, K.
    """
    air, other = 0.0, 0.0
    for i in range(cells):
        air = max(air, abs(now_c[i] - then_c[i]))
    for i in range(cells, now_c.size):
        other = max(other, abs(now_c[i] - then_c[i]))
    return air, other


@compiled_exactly
def vapour_step(
    node: Ints,
    passing_m3_s: Floats,
    wet: Flags,
    sprayed: Floats,
    temperature_c: Floats,
    vapour_kg_m3: float,
    fresh_m3_s: float,
    outside_kg_m3: float,
    fog_kg_s: float,
    volume_m3: float,
    seconds: float,
) -> tuple[float, float, float]:  # pragma: no cover - compiled
    """Vapour after a step, by the exact exponential with surfaces as warm as at its end.

    Returns the density in kg/m³, the relative error of the step's balance, and what sprayed water gave off
    in kg/s. Arguments as ``moisture.vapour.Exchange`` and ``flows`` have them.

    Parameters
    ----------
    node : Ints
        Node, or nodes.
    passing_m3_s : Floats
        Flow that passes, m³/s.
    wet : Flags
        Which surfaces are wet.
    sprayed : Floats
        Water on each surface, kg.
    temperature_c : Floats
        Temperatures, °C.
    vapour_kg_m3 : float
        Water vapour, kg/m³.
    fresh_m3_s : float
        Air exchanged with the room, m³/s.
    outside_kg_m3 : float
        Water vapour of the room, kg/m³.
    fog_kg_s : float
        Water brought by fog, kg/s.
    volume_m3 : float
        Volume, m³.
    seconds : float
        Seconds.

    Returns
    -------
    tuple[float, float, float]
        Vapour after the step, kg/m³, the relative imbalance, and the sprayed water given off, kg/s.
    """
    total, source = fresh_m3_s, fresh_m3_s * outside_kg_m3 + fog_kg_s
    full = np.empty(node.size)
    for k in range(node.size):
        full[k] = saturated(temperature_c[node[k]])
        if wet[k] or full[k] < vapour_kg_m3:
            total += passing_m3_s[k]
            source += passing_m3_s[k] * full[k]
    if total > 0.0:
        settled = source / total
        decay = math.exp(-total * seconds / volume_m3)
        after = settled + (vapour_kg_m3 - settled) * decay
        mean = settled + (vapour_kg_m3 - settled) * (1.0 - decay) * volume_m3 / (total * seconds)
    else:
        after = vapour_kg_m3 + source * seconds / volume_m3
        mean = 0.5 * (vapour_kg_m3 + after)
    given, dried = 0.0, 0.0
    for k in range(node.size):
        if wet[k] or full[k] < vapour_kg_m3:
            flow = passing_m3_s[k] * (full[k] - mean)
            given += flow
            if flow > 0.0:
                dried += flow * sprayed[k]
    stored = volume_m3 * (after - vapour_kg_m3) / seconds
    left = given + fog_kg_s - fresh_m3_s * (mean - outside_kg_m3) - stored
    return after, abs(left) / max(source, 1e-12), dried
