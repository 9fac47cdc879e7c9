"""The clear-sky sun."""

from __future__ import annotations

import math


def clear_sky_uvi(zenith_deg: float, ozone_du: float = 300.0) -> float:
    """Clear-sky UV index at sea level, 12.5 μ₀^2.42 (Ω/300)^−1.23.

    Madronich (2007), Photochem. Photobiol. 83:1537. ``zenith_deg`` is the solar zenith angle in
    degrees; at or below the horizon the result is 0. ``ozone_du`` is the column in Dobson units.

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
