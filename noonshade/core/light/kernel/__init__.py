"""The inner loop: light from flat sources to points, past solids that cast shade and leaves that dim.

A source is a flat shape: a strip, a disc or a rectangle. Seen from a point, what a convex solid hides of it
is a convex polygon, found exactly by cutting the source along the planes through the point and the solid's
outline; so the edges of shade come out as soft as the source is large, with no grain. The visible rest is
integrated by Gauss–Legendre quadrature between the corners of those polygons.

Compiled with numba (see ``core.compiled``), because every field on the screen is some hundred thousands of
such integrals.
"""

from noonshade.core.light.kernel.emission import intensities
from noonshade.core.light.kernel.first_hits import covered, seen_elements, weigh_nodes
from noonshade.core.light.kernel.form_factors import exchange, foliage_between
from noonshade.core.light.kernel.lattice import cell_corners, cells_of, trace_lattice
from noonshade.core.light.kernel.meters import MOMENTS, add_mirrored, gather, metered
from noonshade.core.light.kernel.points import trace
from noonshade.core.light.kernel.transmission import (
    face_reflectance,
    pane_share,
    screened,
    sheet_reflectance,
)
from noonshade.core.light.kernel.types import (
    PATTERN_BEAM,
    PATTERN_LINE,
    PATTERN_TABLE,
    SCREEN_MESH,
    SCREEN_MIRROR,
    SCREEN_PANE,
    SCREEN_WOVEN,
    SHAPE_DISC,
    SHAPE_PANEL,
    SHAPE_STRIP,
    WOVEN_ANGLES,
    Indices,
    Occluders,
    Shares,
    Sheets,
    Source,
)
from noonshade.core.light.kernel.weave import weave_share

__all__ = [
    "MOMENTS",
    "PATTERN_BEAM",
    "PATTERN_LINE",
    "PATTERN_TABLE",
    "SCREEN_MESH",
    "SCREEN_MIRROR",
    "SCREEN_PANE",
    "SCREEN_WOVEN",
    "SHAPE_DISC",
    "SHAPE_PANEL",
    "SHAPE_STRIP",
    "WOVEN_ANGLES",
    "Indices",
    "Occluders",
    "Shares",
    "Sheets",
    "Source",
    "add_mirrored",
    "cell_corners",
    "cells_of",
    "covered",
    "exchange",
    "face_reflectance",
    "foliage_between",
    "gather",
    "intensities",
    "metered",
    "pane_share",
    "screened",
    "seen_elements",
    "sheet_reflectance",
    "trace",
    "trace_lattice",
    "weave_share",
    "weigh_nodes",
]
