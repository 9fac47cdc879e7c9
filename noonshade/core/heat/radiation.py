"""Where each lamp's watts go: onto surfaces, into the air, into the diffuse pool, out of the box."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from noonshade.core.heat.geometry import BoxGrid
from noonshade.core.heat.patches import sub_samples
from noonshade.core.light.kernel import screened
from noonshade.core.light.screens import screen_rows, ways_in
from noonshade.core.light.shade import obstacles
from noonshade.core.light.sources import Emitter, emitter, frame_of
from noonshade.core.plan import Fixture, Plan

Floats = NDArray[np.float64]

SAMPLE_SPACING_M = 0.025


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


def screened_share(source: Emitter, rows: Floats, frame: Floats, directions: int = 4000) -> float:
    """Share of a source's radiation that passes its screens, by quadrature over the sphere."""
    if len(rows) == 0:
        return 1.0
    index = np.arange(directions) + 0.5
    z = 1.0 - 2.0 * index / directions
    bearing = index * math.pi * (1.0 + math.sqrt(5.0))
    r = np.sqrt(1.0 - z * z)
    local = np.column_stack([r * np.cos(bearing), r * np.sin(bearing), z])
    strength = source.intensity(local)
    passed = screened(local @ frame, frame, rows)
    return float(np.sum(strength * passed) / np.sum(strength))


def lamp_heat(plan: Plan, grid: BoxGrid, fixture: Fixture) -> LampHeat:
    """Share out one lamp's watts at full power.

    The beam is sampled over every patch and opening. Inside a closed box all of it must land
    somewhere: what the samples miss fell on the sides of furnishings and joins the diffuse pool,
    and an excess from coarse sampling is scaled away, so that the watts always add up. A lamp
    above the lid gives its side losses, its convection and what the mesh stops to the room.
    """
    patches = grid.patches
    source = emitter(fixture.lamp.geometry)
    frame = frame_of(fixture)
    points, normals, index = sub_samples(patches, SAMPLE_SPACING_M)
    count = patches.area_m2.size
    total = np.zeros(count)
    for way in ways_in(plan, fixture, obstacles(plan)):
        _, on_normal = source.at(fixture.position_m, points, normals, way.rows, way.obstacles, frame)
        total += way.bands.radiant * np.bincount(index, weights=on_normal, minlength=count)
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
        rows, bands = screen_rows(fixture.screen, fixture.screen_measured, turns=True)
        passed = forward * bands.radiant * screened_share(source, rows, frame)
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
