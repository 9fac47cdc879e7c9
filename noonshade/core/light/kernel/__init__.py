"""The inner loop: light from flat sources to points, past solids that cast shade and leaves that dim.

A source is a flat shape: a strip, a disc or a rectangle. Seen from a point, what a convex solid hides of it
is a convex polygon, found exactly by cutting the source along the planes through the point and the solid's
outline; so the edges of shade come out as soft as the source is large, with no grain. The visible rest is
integrated by Gauss–Legendre quadrature between the corners of those polygons.

Compiled with numba (see ``core.compiled``), because every field on the screen is some hundred thousands of
such integrals.
"""

from noonshade.core.light.kernel.bounce import bounced
from noonshade.core.light.kernel.emission import intensities
from noonshade.core.light.kernel.lattice import cell_corners, cells_of, trace_lattice
from noonshade.core.light.kernel.meters import metered
from noonshade.core.light.kernel.points import trace
from noonshade.core.light.kernel.transmission import pane_share, screened
from noonshade.core.light.kernel.types import (
    PATTERN_BEAM,
    PATTERN_LINE,
    PATTERN_TABLE,
    SCREEN_MESH,
    SCREEN_PANE,
    SHAPE_DISC,
    SHAPE_PANEL,
    SHAPE_STRIP,
    Occluders,
    Source,
)

__all__ = [
    "PATTERN_BEAM",
    "PATTERN_LINE",
    "PATTERN_TABLE",
    "SCREEN_MESH",
    "SCREEN_PANE",
    "SHAPE_DISC",
    "SHAPE_PANEL",
    "SHAPE_STRIP",
    "Occluders",
    "Source",
    "bounced",
    "cell_corners",
    "cells_of",
    "intensities",
    "metered",
    "pane_share",
    "screened",
    "trace",
    "trace_lattice",
]
