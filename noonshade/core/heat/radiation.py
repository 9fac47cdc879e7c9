"""Where each lamp's watts go: onto surfaces, into the air, into the diffuse pool, out of the box."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from noonshade.core.heat.geometry import BoxGrid
from noonshade.core.heat.patches import sub_samples
from noonshade.core.light.field import screen_ratios
from noonshade.core.light.kernel import PATTERN_LINE
from noonshade.core.light.shade import opaque_boxes
from noonshade.core.light.sources import SourceElements, elements
from noonshade.core.plan import Fixture, Plan

Floats = NDArray[np.float64]

SAMPLE_SPACING_M = 0.05


@dataclass(frozen=True, slots=True)
class LampHeat:
    """Where one lamp at full power puts its watts.

    ``absorbed_w`` (p,) by the patches of the grid; ``air_w`` to the air at the lamp; ``diffuse_w`` to the
    box as scattered radiation; ``outside_w`` to the room. They add up to the lamp's power.
    """

    fixture: Fixture
    absorbed_w: Floats
    air_w: float
    diffuse_w: float
    outside_w: float


def screened_share(source: SourceElements, screens: Floats, directions: int = 4000) -> float:
    """Share of a source's radiation that passes its screens, by quadrature over the sphere.

    Light that does not travel downwards meets no screen.
    """
    if screens.size == 0:
        return 1.0
    index = np.arange(directions) + 0.5
    z = 1.0 - 2.0 * index / directions
    bearing = index * math.pi * (1.0 + math.sqrt(5.0))
    r = np.sqrt(1.0 - z * z)
    x, y = r * np.cos(bearing), r * np.sin(bearing)
    ahead = -z
    if source.pattern == PATTERN_LINE:
        sine = np.sqrt(np.maximum(1e-18, 1.0 - x * x))
        strength = sine.copy()
        if source.exponent >= 0:
            strength *= np.maximum(0.0, ahead / sine) ** source.exponent * (ahead > 0)
    else:
        strength = np.maximum(0.0, ahead) ** source.exponent
    passed = np.ones(directions)
    for ratio in screens:
        with np.errstate(divide="ignore", invalid="ignore"):
            first = np.maximum(0.0, 1.0 - ratio * np.hypot(1.0, x / z))
            second = np.maximum(0.0, 1.0 - ratio * np.hypot(1.0, y / z))
        passed *= np.where(z < 0, first * second, 1.0)
    return float(np.sum(strength * passed) / np.sum(strength))


def lamp_heat(plan: Plan, grid: BoxGrid, fixture: Fixture) -> LampHeat:
    """Share out one lamp's watts at full power.

    The beam is sampled over every patch and opening. Inside a closed box all of it must land
    somewhere: what the samples miss fell on the sides of furnishings and joins the diffuse pool,
    and an excess from coarse sampling is scaled away, so that the watts always add up. A lamp
    above the lid gives its side losses, its convection and what the mesh stops to the room.
    """
    patches = grid.patches
    source = elements(fixture.lamp.geometry, SAMPLE_SPACING_M)
    screens = screen_ratios(plan, fixture)
    points, normals, index = sub_samples(patches, SAMPLE_SPACING_M)
    _, on_normal = source.at(fixture.position_m, points, normals, screens, opaque_boxes(plan))
    count = patches.area_m2.size
    total = np.bincount(index, weights=on_normal, minlength=count)
    mean = total / np.maximum(np.bincount(index, minlength=count), 1)
    power = fixture.power_w
    forward = power * fixture.lamp.forward_radiant
    other = power * fixture.lamp.other_radiant
    convected = power * fixture.lamp.convected
    incident = mean * patches.area_m2 * forward
    above = fixture.position_m[2] > plan.box.height_m
    sides = 0.0
    blocked = 0.0
    if not above:
        passed = forward * screened_share(source, screens)
        blocked = forward - passed
        landed = float(np.sum(incident))
        if landed > passed:
            incident *= passed / landed
        sides = max(0.0, passed - landed)
    absorbed = incident * patches.absorptance
    through = float(np.sum(incident * patches.transmittance))
    reflected = float(np.sum(incident)) - float(np.sum(absorbed)) - through
    if above:
        air, diffuse = 0.0, reflected
    else:
        air, diffuse = convected + blocked, reflected + sides + other
    outside = power - float(np.sum(absorbed)) - air - diffuse
    return LampHeat(fixture, absorbed, air, diffuse, outside)
