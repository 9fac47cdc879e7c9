"""Thermostats at steady state: the mean power that holds each probe at its set point."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]

# Sweeps at most, and after which the end is computed directly.
MOST_SWEEPS, DIRECT_AFTER = 500, frozenset((4, 12, 36, 108, 324))


def holding_fractions(
    probe_base_c: Floats, probe_rise_k: Floats, set_point_c: Floats, start: Floats | None = None
) -> Floats:
    """Mean heater power as a fraction of full for coupled thermostats.

    Parameters
    ----------
    probe_base_c : (m,) float64
        Probe temperatures with all controlled heaters off, °C.
    probe_rise_k : (m, m) float64
        Rise of probe i by heater j at full power, K.
    set_point_c : (m,) float64
        Set points, °C; −inf for a thermostat that is switched off.
    start : (m,) float64 or None
        Where to begin, None at zero. Where heaters warm each other's probes more than their own there are
        several answers: the one nearest to the last round's keeps rounds from going back and forth.

    Returns
    -------
    (m,) float64 in 0–1: the fraction that holds the probe, 0 if it is warm enough anyway, 1 if full
    power is not enough. Heaters only warm, so Gauss–Seidel sweeps approach it from below.
    """
    fractions = np.zeros(set_point_c.size) if start is None else start.copy()
    # A probe its heater does not reach never stops it.
    ruled = np.isfinite(set_point_c) & (np.diag(probe_rise_k) > 1e-12)
    fractions[~ruled] = np.where(np.isfinite(set_point_c), 1.0, 0.0)[~ruled]
    own = np.flatnonzero(ruled).tolist()
    rise, base, target = probe_rise_k.tolist(), probe_base_c.tolist(), set_point_c.tolist()
    now: list[float] = fractions.tolist()
    for sweep in range(1, MOST_SWEEPS + 1):
        moved = 0.0
        for i in own:
            row = rise[i]
            others = base[i] + sum(r * f for r, f in zip(row, now, strict=True)) - row[i] * now[i]
            held = min(1.0, max(0.0, (target[i] - others) / row[i]))
            moved = max(moved, abs(held - now[i]))
            now[i] = held
        if moved < 1e-10:
            break
        if sweep in DIRECT_AFTER:
            direct = _directly(probe_base_c, probe_rise_k, set_point_c, np.array(now), ruled)
            if direct is not None:
                return direct
    return np.array(now)


def _directly(
    base: Floats, rise: Floats, target: Floats, near: Floats, ruled: NDArray[np.bool_]
) -> Floats | None:
    """Where sweeps from near by end, if no more heaters are fully on or off by then; None otherwise."""
    free = ruled & (near > 0.0) & (near < 1.0)
    block = rise[np.ix_(free, free)]
    lower = np.tril(block)
    found = near.copy()
    if np.any(free):
        # Sweeps lead away from where heaters warm each other's probes more than their own.
        sweeping = np.linalg.solve(lower, block - lower)
        if float(np.max(np.abs(np.linalg.eigvals(sweeping)))) >= 1.0 - 1e-9:
            return None
        found[free] = np.linalg.solve(block, (target - base - rise[:, ~free] @ near[~free])[free])
    read = base + rise @ found
    off, full = ruled & (near <= 0.0), ruled & (near >= 1.0)
    inside = np.all((found >= 0.0) & (found <= 1.0))
    return (
        found
        if inside and np.all(read[off] >= target[off]) and np.all(read[full] <= target[full])
        else None
    )
