"""What a wire mesh lets through."""

from __future__ import annotations

import math

from noonshade.core.plan import Fixture, Mesh, Plan


def mesh_transmittance(mesh: Mesh, zenith_deg: float, bearing_deg: float = 0.0) -> float:
    """Share of light that passes a horizontal square mesh, 0–1.

    Each family of parallel wires of diameter w and pitch p throws shadow stripes; with θ₁, θ₂ the
    incidence angle projected on the planes across each family, the open share is

        max(0, 1 − w/(p cos θ₁)) · max(0, 1 − w/(p cos θ₂)).

    Along a wire direction this is (1 − w/p)(1 − w/(p cos θ)); at normal incidence the open-area
    fraction. The kernel in ``kernel.py`` repeats it per ray; a test holds them together.

    Parameters
    ----------
    mesh : Mesh
    zenith_deg : float
        Angle of incidence from the mesh normal, 0 ≤ θ < 90.
    bearing_deg : float
        Direction of arrival about the normal, measured from one wire direction.
    """
    ratio = mesh.wire_m / mesh.pitch_m
    tangent = math.tan(math.radians(zenith_deg))
    along = tangent * math.cos(math.radians(bearing_deg))
    across = tangent * math.sin(math.radians(bearing_deg))
    first = max(0.0, 1.0 - ratio * math.hypot(1.0, along))
    second = max(0.0, 1.0 - ratio * math.hypot(1.0, across))
    return first * second


def meshes_below(plan: Plan, fixture: Fixture) -> tuple[Mesh, ...]:
    """Every mesh between a fixture and the inside of the box: its own screen, and a mesh lid."""
    meshes = [fixture.screen]
    if fixture.position_m[2] > plan.box.height_m:
        meshes.append(plan.box.walls["top"].mesh)
    return tuple(m for m in meshes if m is not None)


def screen_loss(plan: Plan, fixture: Fixture) -> float:
    """Share of a lamp's light that its meshes stop straight below it, 0–1."""
    passed = 1.0
    for mesh in meshes_below(plan, fixture):
        passed *= mesh.open_fraction
    return 1.0 - passed
