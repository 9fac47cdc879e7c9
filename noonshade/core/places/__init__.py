"""The places a keeper assesses: basking spot, ends, levels, burrow, water, hides."""

from noonshade.core.places.ends import END_HEIGHT_M, END_HEIGHT_SPREAD_M, END_SHARE, warm_side
from noonshade.core.places.figures import (
    MeasuredAt,
    PlaceFigures,
    basking_patch,
    measured_at,
    place_figures,
)
from noonshade.core.places.surfaces import ReachableSurface, basking_offer, reachable_surfaces

__all__ = [
    "END_HEIGHT_M",
    "END_HEIGHT_SPREAD_M",
    "END_SHARE",
    "MeasuredAt",
    "PlaceFigures",
    "ReachableSurface",
    "basking_offer",
    "basking_patch",
    "measured_at",
    "place_figures",
    "reachable_surfaces",
    "warm_side",
]
