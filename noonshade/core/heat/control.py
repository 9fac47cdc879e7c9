"""Thermostats at steady state: the mean power that holds each probe at its set point."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]


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
    for _ in range(500):
        before = fractions.copy()
        for i, target in enumerate(set_point_c):
            if not np.isfinite(target) or probe_rise_k[i, i] <= 1e-12:
                # A probe its heater does not reach never stops it.
                fractions[i] = 0.0 if not np.isfinite(target) else 1.0
                continue
            others = probe_base_c[i] + probe_rise_k[i] @ fractions
            others -= probe_rise_k[i, i] * fractions[i]
            fractions[i] = min(1.0, max(0.0, (target - others) / probe_rise_k[i, i]))
        if float(np.max(np.abs(fractions - before), initial=0.0)) < 1e-10:
            break
    return fractions
