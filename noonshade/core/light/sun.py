"""The clear-sky sun."""

from __future__ import annotations

import math
from datetime import UTC, date, datetime

from astral import Observer
from astral.sun import daylight, elevation


def clear_sky_uvi(zenith_deg: float, ozone_du: float = 300.0) -> float:
    """Clear-sky UV index at sea level, 12.5 μ₀^2.42 (Ω/300)^−1.23.

    Madronich (2007), Photochem. Photobiol. 83:1537. ``zenith_deg`` is the solar zenith angle in
    degrees; at or below the horizon the result is 0. ``ozone_du`` is the column in Dobson units.

    Parameters
    ----------
    zenith_deg : float
        Solar zenith angle, degrees.
    ozone_du : float
        Ozone column, DU.

    Returns
    -------
    float
        The UV index, 0 with the sun at or below the horizon.

    Raises
    ------
    ValueError
        If the ozone column is not positive.
    """
    if not ozone_du > 0:
        raise ValueError("the ozone column must be above 0 DU")
    cosine = math.cos(math.radians(zenith_deg))
    if cosine <= 0:
        return 0.0
    return float(12.5 * cosine**2.42 * (ozone_du / 300.0) ** -1.23)


def day_length_h(latitude_deg: float, day: date) -> float:
    """Hours from sunrise to sunset at sea level, by the astral library's solar position.

    24 where the sun does not set and 0 where it does not rise.

    Parameters
    ----------
    latitude_deg : float
        Latitude, degrees, north positive.
    day : date
        The day.

    Returns
    -------
    float
        The hours, 0 in polar night and 24 in polar day.

    Raises
    ------
    ValueError
        If the latitude is beyond the poles.
    """
    if not -90.0 <= latitude_deg <= 90.0:
        raise ValueError(f"latitude must be -90 to 90 degrees, not {latitude_deg:g}")
    place = Observer(latitude_deg, 0.0)
    try:
        rise, set_ = daylight(place, day)
    except ValueError:
        # No rising and setting: it is either up or down at noon.
        noon = datetime(day.year, day.month, day.day, 12, tzinfo=UTC)
        return 24.0 if elevation(place, noon) > 0 else 0.0
    return float(((set_ - rise).total_seconds() / 3600.0) % 24.0)
