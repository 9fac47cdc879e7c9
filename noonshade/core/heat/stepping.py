"""One step of the simulated day, past the linear solve: compiled, since it is done some thousand times."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from noonshade.core.compiled import compiled_exactly

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
Flags = NDArray[np.bool_]

# As in ``moisture.humidity`` and ``moisture.vapour``; compiled code sees the constants of its module only.
_E0_PA, _A, _B_C = 610.94, 17.625, 243.04
_GAS_CONSTANT, _KELVIN = 461.5, 273.15


@compiled_exactly
def load_of(
    constant: Floats, sources: Floats, power: Floats, stored: Floats, temperature_c: Floats
) -> Floats:  # pragma: no cover - compiled
    """Right-hand side (n,) of a backward Euler step, W.

    ``constant`` (n,) what does not change, ``sources`` (n, 1 + f) W, without column 0, ``power`` (f,)
    fractions of full, ``stored`` (n,) capacity over step, W/K.

    Parameters
    ----------
    constant : Floats
        What does not change during the day, W, shape (n,).
    sources : Floats
        Heat of each control fraction, W, shape (n, 1 + f).
    power : Floats
        Fractions of full power, shape (f,).
    stored : Floats
        Heat capacity over step, W/K, shape (n,).
    temperature_c : Floats
        Temperatures, °C.

    Returns
    -------
    Floats
        The right-hand side (n,), W.
    """
    load = np.empty(constant.size)
    for i in range(constant.size):
        load[i] = constant[i] + stored[i] * temperature_c[i]
        for k in range(power.size):
            load[i] += sources[i, k + 1] * power[k]
    return load


@compiled_exactly
def heat_flows(
    after_c: Floats, before_c: Floats, stored: Floats, conductance: Floats
) -> tuple[float, float]:  # pragma: no cover - compiled
    """Heat stored in a step, and heat to all boundaries as if they were at 0 °C, W.

    Parameters
    ----------
    after_c : Floats
        Temperatures at the end of the step, °C.
    before_c : Floats
        Temperatures at the start of the step, °C.
    stored : Floats
        Heat capacity over step, W/K, shape (n,).
    conductance : Floats
        Conductances, W/K.

    Returns
    -------
    tuple[float, float]
        Stored heat and boundary heat, W.
    """
    gained, given = 0.0, 0.0
    for i in range(after_c.size):
        gained += stored[i] * (after_c[i] - before_c[i])
        given += conductance[i] * after_c[i]
    return gained, given


@compiled_exactly
def furthest_moved(
    now_c: Floats, then_c: Floats, first: int, last: int
) -> float:  # pragma: no cover - compiled
    """Largest change of the nodes from ``first`` to before ``last``, K.

    Parameters
    ----------
    now_c : Floats
        Temperatures now, °C.
    then_c : Floats
        Temperatures then, °C.
    first : int
        First index or node.
    last : int
        Number of the last break.

    Returns
    -------
    float
        The change, K.
    """
    most = 0.0
    for i in range(first, last):
        most = max(most, abs(now_c[i] - then_c[i]))
    return most


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
    saturated = np.empty(node.size)
    for k in range(node.size):
        t = temperature_c[node[k]]
        saturated[k] = _E0_PA * math.exp(_A * t / (_B_C + t)) / (_GAS_CONSTANT * (t + _KELVIN))
        if wet[k] or saturated[k] < vapour_kg_m3:
            total += passing_m3_s[k]
            source += passing_m3_s[k] * saturated[k]
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
        if wet[k] or saturated[k] < vapour_kg_m3:
            flow = passing_m3_s[k] * (saturated[k] - mean)
            given += flow
            if flow > 0.0:
                dried += flow * sprayed[k]
    stored = volume_m3 * (after - vapour_kg_m3) / seconds
    left = given + fog_kg_s - fresh_m3_s * (mean - outside_kg_m3) - stored
    return after, abs(left) / max(source, 1e-12), dried
