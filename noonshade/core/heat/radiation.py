"""Where each lamp's watts go: onto surfaces, into the air, into the diffuse pool, out of the enclosure."""

from __future__ import annotations

from dataclasses import dataclass, field
from functools import partial

import numpy as np
from numpy.typing import NDArray

from noonshade.core.built import built_parts, unit_fixture
from noonshade.core.heat.films import OUTSIDE_FILM, UNDERSIDE_FILM
from noonshade.core.heat.geometry import EnclosureGrid
from noonshade.core.heat.grids import overlap
from noonshade.core.heat.patches import sub_samples
from noonshade.core.light.screens import light_paths, screen_rows
from noonshade.core.light.shade import obstacles
from noonshade.core.light.sources import emitter, frame_of, screened_share
from noonshade.core.plan import Fixture, LineSource, PanelSource, Plan
from noonshade.core.remembered import Remembered

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

SAMPLE_SPACING_M = 0.025


@dataclass(frozen=True, slots=True)
class LampHeat:
    """Where one lamp at full power puts its watts.

    ``against_w`` goes into the nodes ``against_node`` of the floor or wall it lies against;
    ``absorbed_w`` (p,) by the patches of the grid; ``air_w`` to the air at the lamp; ``diffuse_w`` to the
    enclosure as scattered radiation; ``outside_w`` to the room. They add up to the lamp's power.
    """

    fixture: Fixture
    absorbed_w: Floats
    air_w: float
    diffuse_w: float
    outside_w: float
    against_node: Ints = field(default_factory=lambda: np.zeros(0, dtype=np.int64))
    against_w: Floats = field(default_factory=lambda: np.zeros(0))


# For the lamps of a few plans, by day and by night.
_SHARED = Remembered[LampHeat](96)


def lamp_heat(plan: Plan, grid: EnclosureGrid, fixture: Fixture) -> LampHeat:
    """Share out one lamp's watts at full power; remembered as long as nothing it meets is changed.

    The beam is sampled over every patch and opening. Inside a closed enclosure all of it must land
    somewhere: what the samples miss fell on the sides of furnishings and joins the diffuse pool,
    and an excess from coarse sampling is scaled away, so that the watts always add up. A lamp outside,
    above the lid or beside a side, gives its side losses, its convection and what stops its beam to the
    room.

    Parameters
    ----------
    plan : Plan
        The plan.
    grid : EnclosureGrid
        The grid of the enclosure.
    fixture : Fixture
        The fixture.

    Returns
    -------
    LampHeat
        Watts into each patch (p,), into the air, diffuse, and out of the enclosure.
    """
    cells = (grid.size, grid.air.nx, grid.air.nz, grid.floor[0].nx, grid.patches.area_m2.size)
    unit = unit_fixture(fixture)
    each = _SHARED.get(
        (unit, *built_parts(plan)), (plan.fog_per_m, cells), partial(_shared, plan, grid, unit)
    )
    watts = fixture.power_w
    return LampHeat(
        fixture,
        watts * each.absorbed_w,
        watts * each.air_w,
        watts * each.diffuse_w,
        watts * each.outside_w,
        each.against_node,
        watts * each.against_w,
    )


def _shared(plan: Plan, grid: EnclosureGrid, fixture: Fixture) -> LampHeat:
    if fixture.against is not None:
        return _mat(plan, grid, fixture)
    patches = grid.patches
    source = emitter(fixture.lamp.geometry)
    frame = frame_of(fixture)
    points, normals, index = sub_samples(patches, SAMPLE_SPACING_M)
    count = patches.area_m2.size
    total = np.zeros(count)
    for way in light_paths(plan, fixture, obstacles(plan)):
        _, on_normal = source.at(fixture.position_m, points, normals, way.rows, way.obstacles, frame)
        total += way.bands.heat_of(fixture.lamp) * np.bincount(index, weights=on_normal, minlength=count)
    mean = total / np.maximum(np.bincount(index, minlength=count), 1)
    power = fixture.power_w
    forward = power * fixture.lamp.forward_radiant
    other = power * fixture.lamp.other_radiant
    convected = power * fixture.lamp.convected
    incident = mean * patches.area_m2 * forward
    outside_it = plan.enclosure.beyond(fixture.position_m) is not None
    sides = 0.0
    blocked = 0.0
    if not outside_it:
        rows, bands = screen_rows(fixture.screen, fixture.screen_measured)
        passed = forward * bands.heat_of(fixture.lamp) * screened_share(source, rows, frame)
        blocked = forward - passed
        landed = float(np.sum(incident))
        if landed > passed:
            incident *= passed / landed
        sides = max(0.0, passed - landed)
    taken, passing = patches.absorptance, patches.transmittance
    if not fixture.lamp.gives_light:
        # Long-wave heat: sheets take it as they send it out, panes of glass among them; mesh is open to it.
        is_sheet = patches.node >= 0
        taken = np.where(is_sheet, patches.emissivity, taken)
        passing = np.where(is_sheet, 0.0, passing)
    absorbed = incident * taken
    through = float(np.sum(incident * passing))
    reflected = float(np.sum(incident)) - float(np.sum(absorbed)) - through
    if outside_it:
        air, diffuse = 0.0, reflected
    else:
        air, diffuse = convected + blocked, reflected + sides + other
    outside = power - float(np.sum(absorbed)) - air - diffuse
    return LampHeat(fixture, absorbed, air, diffuse, outside)


def _mat(plan: Plan, grid: EnclosureGrid, fixture: Fixture) -> LampHeat:
    """A mat or cable on the outside of a face: part of its heat gets in, the rest is lost outwards.

    Between the room's film and the sheet, watts divide as the resistance to either side: a node behind
    the sheet receives R_film/(R_film + R_sheet) of them.
    """
    geometry = fixture.lamp.geometry
    length = geometry.length_m if isinstance(geometry, LineSource | PanelSource) else 0.1
    width = geometry.width_m if isinstance(geometry, PanelSource) else 0.05
    x, y, z = fixture.position_m
    wall = plan.enclosure.walls[fixture.against]  # type: ignore[index]
    if fixture.against == "floor":
        film = UNDERSIDE_FILM
        sheet = grid.floor[-1]
        along = overlap(sheet.x_edges, x - length / 2, x + length / 2)
        across = overlap(sheet.y_edges, y - width / 2, y + width / 2)
        nodes, area = sheet.nodes.ravel(), np.outer(along, across).ravel()
    else:
        film = OUTSIDE_FILM
        face = fixture.against
        air = grid.air
        sheets = [s for s in grid.sheets if s.face == face]
        nodes, cells = grid.wall_nodes(face), np.concatenate([s.cell for s in sheets])  # type: ignore[arg-type]
        mine = np.concatenate([s.area_m2 for s in sheets])
        up = overlap(air.z_edges, z - width / 2, z + width / 2)[cells % air.nz]
        beside = overlap(air.x_edges, x - length / 2, x + length / 2)[cells // air.nz]
        area = mine * (up * beside if face in ("front", "back") else up)
    total = float(np.sum(area))
    inwards = 1.0 / film / (1.0 / film + wall.resistance_m2k_w)
    power = fixture.power_w * inwards if total > 0 else 0.0
    share = area / total if total > 0 else area
    nothing = np.zeros(grid.patches.area_m2.size)
    return LampHeat(fixture, nothing, 0.0, 0.0, fixture.power_w - power, nodes, power * share)
