"""The light of all lamps together at points: UV index, radiant irradiance, illuminance."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from noonshade.core.light.ageing import REFERENCE_H, uv_share
from noonshade.core.light.screens import meshes_below
from noonshade.core.light.shade import opaque_boxes
from noonshade.core.light.sources import UP, SourceElements, elements, reference_response
from noonshade.core.plan import Fixture, Lamp, Plan

Floats = NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class LampStrength:
    """What multiplies the geometric response (per emitted watt) of one fixture."""

    uvi: float
    radiant_w: float
    lumens: float


@dataclass(frozen=True, slots=True)
class LightAtPoints:
    """Light at n points; every array has shape (n,).

    ``facing`` is a meter turned to the strongest light, ``level`` one that looks straight up.
    Irradiance and illuminance are of the lamps' own radiation, facing.
    """

    uvi_facing: Floats
    uvi_level: Floats
    irradiance_facing_w_m2: Floats
    irradiance_level_w_m2: Floats
    illuminance_level_lx: Floats


def strength(
    lamp: Lamp, source: SourceElements, power_w: float, hours: float = REFERENCE_H
) -> LampStrength:
    """Scale factors of a lamp at a power and age: UVI from its reference reading, the rest from watts."""
    radiant = power_w * lamp.forward_radiant
    uvi = 0.0
    if lamp.uv is not None:
        uvi = lamp.uv.uvi / reference_response(source, lamp.uv.distance_m)
        uvi *= power_w / lamp.power_w * uv_share(lamp.ageing, hours)
    return LampStrength(uvi=uvi, radiant_w=radiant, lumens=radiant * lamp.lumens_per_radiant_watt)


def screen_ratios(plan: Plan, fixture: Fixture) -> Floats:
    """Wire-to-pitch ratios of every mesh between a fixture and the inside of the box."""
    return np.array([m.wire_m / m.pitch_m for m in meshes_below(plan, fixture)])


def light_at(
    plan: Plan,
    points: Floats,
    fixtures: tuple[Fixture, ...],
    dimming: dict[str, float] | None = None,
    spacing_m: float = 0.02,
    boxes: Floats | None = None,
) -> LightAtPoints:
    """Light at points from the given fixtures, with hard shade and meshes.

    Parameters
    ----------
    plan : Plan
    points : (n, 3) float64
        Positions in m.
    fixtures : tuple of Fixture
        Those that are lit.
    dimming : dict, optional
        Mean power as a fraction of full, by fixture id; 1 where absent. It scales radiant heat
        and light, not UV: dimmed lamps in the catalogue give none.
    spacing_m : float
        Longest source element.
    boxes : (b, 6), optional
        Opaque boxes, if already made.
    """
    points = np.ascontiguousarray(points, dtype=np.float64).reshape(-1, 3)
    shade = opaque_boxes(plan) if boxes is None else boxes
    n = points.shape[0]
    up = np.tile(UP, (n, 1))
    vectors, levels, scales = [], [], []
    for fixture in fixtures:
        source = elements(fixture.lamp.geometry, spacing_m)
        vector, level = source.at(fixture.position_m, points, up, screen_ratios(plan, fixture), shade)
        share = 1.0 if dimming is None else dimming.get(fixture.id, 1.0)
        scale = strength(fixture.lamp, source, fixture.power_w, fixture.hours)
        vectors.append(vector)
        levels.append(level)
        scales.append((scale.uvi, scale.radiant_w * share, scale.lumens * share))
    if not vectors:
        zero = np.zeros(n)
        return LightAtPoints(zero, zero, zero, zero, zero)
    weight = np.array(scales)  # (lamps, 3)
    uv = [v * s for v, s in zip(vectors, weight[:, 0], strict=True)]
    heat = [v * s for v, s in zip(vectors, weight[:, 1], strict=True)]
    up_light = np.array(levels)  # (lamps, n)
    return LightAtPoints(
        uvi_facing=_facing(uv),
        uvi_level=weight[:, 0] @ up_light,
        irradiance_facing_w_m2=_facing(heat),
        irradiance_level_w_m2=weight[:, 1] @ up_light,
        illuminance_level_lx=weight[:, 2] @ up_light,
    )


def _facing(parts: list[Floats]) -> Floats:
    """Largest reading of a cosine meter over the directions of each lamp and of their sum.

    A single convex source is faced along its vector irradiance. With several, light from behind
    the meter does not count, so each lamp's own direction is tried too.
    """
    total: Floats = np.sum(parts, axis=0)
    lengths: Floats = np.linalg.norm(total, axis=1)
    if len(parts) == 1:
        return lengths
    best: Floats = np.zeros(total.shape[0])
    for direction in [total, *parts]:
        norm = np.linalg.norm(direction, axis=1)
        unit = np.divide(direction, norm[:, None], out=np.zeros_like(direction), where=norm[:, None] > 0)
        reading: Floats = np.sum(
            [np.maximum(0.0, np.einsum("ij,ij->i", unit, part)) for part in parts], axis=0
        )
        best = np.maximum(best, reading)
    return best
