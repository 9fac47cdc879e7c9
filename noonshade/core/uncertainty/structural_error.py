"""Effects the model does not include, as a separate spread beside those of its inputs.

Air that drifts elsewhere than through vents, a lamp a finger's breadth off, a surface that is not as
even as in the plan: no multiplier holds these, so neither intervals nor readings may be surer than this.
Standard deviations. Those of temperatures are measured: by how much the model is off from fluid dynamics
in the eight cases of ``tests/reference/heat`` (root mean squares of 48 layers of air and of 8 surfaces that
heat falls on). Those of UV and humidity are estimates, checked against enclosures that differ from their
plans in just such ways.
"""

from __future__ import annotations

# Of a temperature: K, and a share of how far it is from the room, of air and of a surface.
TEMPERATURE_K = 0.25
AIR_SHARE, SURFACE_SHARE = 0.06, 0.08
# Of a UV index: a share of it, and at least.
UVI_SHARE = 0.04
UVI_LEAST = 0.03
# Of relative humidity, and of the share of the ground free of UV.
HUMIDITY = 0.03
UV_FREE = 0.03


def of_temperature(value_c: float, room_c: float, surface: bool) -> float:
    """Standard deviation of a computed temperature, K.

    Parameters
    ----------
    value_c : float
        Temperature, °C.
    room_c : float
        Temperature of the room, °C.
    surface : bool
        Of a surface, rather than of air.

    Returns
    -------
    float
        The standard deviation, K.
    """
    share = SURFACE_SHARE if surface else AIR_SHARE
    return float((TEMPERATURE_K**2 + (share * (value_c - room_c)) ** 2) ** 0.5)


def of_uvi(value: float) -> float:
    """Standard deviation of a computed UV index.

    Parameters
    ----------
    value : float
        The value, in core units.

    Returns
    -------
    float
        The standard deviation, in UV index.
    """
    return float(((UVI_SHARE * value) ** 2 + UVI_LEAST**2) ** 0.5)
