"""Windows, doors and panes: their own inner surface, beside that of the sheet they are let into."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from numpy.typing import NDArray

from noonshade.core.heat.films import OUTSIDE_FILM
from noonshade.core.heat.geometry import COARSE, build_grid
from noonshade.core.heat.rays import VisibleSurfaces
from noonshade.core.heat.streamed_model import PrescribedHeat, ReleasedHeat
from noonshade.core.plan import Inset, Plan, Wall
from tests.builders import MATERIALS, plan, timber_enclosure, walls
from tests.core.streamed import settled

Floats = NDArray[np.float64]
TIMBER = Wall(MATERIALS["timber"], 0.015)
GLASS = Wall(MATERIALS["glass"], 0.004)
ROOM_C = 12.0
WARMTH = PrescribedHeat(to_air=(ReleasedHeat((0.4, 0.3, 0.2), 30.0),), leaks=False)


def boxed(*insets: Inset) -> Plan:
    enclosure = replace(timber_enclosure(), walls=walls("timber", 0.015), vents=(), insets=insets)
    return plan(enclosure, room_c=ROOM_C, substrate_m=0.0)


@pytest.mark.parametrize(
    "window",
    [
        Inset(0.1, 0.15, 0.9, 0.5, TIMBER, "front"),
        Inset(0.2, 0.1, 0.4, 0.6, TIMBER, "left"),
        Inset(0.3, 0.1, 0.8, 0.5, TIMBER, "top"),
    ],
)
def test_a_window_of_the_same_sheet_changes_nothing(window: Inset) -> None:
    _, whole = settled(boxed(), WARMTH)
    model, parted = settled(boxed(window), WARMTH)
    cells = model.grid.air.size + model.grid.floor[0].nx * model.grid.floor[0].ny
    assert len(model.grid.sheets) == 6
    assert parted[:cells] == pytest.approx(whole[:cells], abs=0.05)


def test_a_pane_is_colder_than_the_timber_around_it() -> None:
    model, found = settled(boxed(Inset(0.1, 0.0, 1.1, 0.6, GLASS, "front")), WARMTH)
    sheet, pane = (s for s in model.grid.sheets if s.face == "front")
    assert float(np.sum(pane.area_m2)) == pytest.approx(0.6)
    assert float(np.sum(sheet.area_m2)) == pytest.approx(0.12)
    inner = {s.number: float(np.average(found[s.node], weights=s.area_m2)) for s in (sheet, pane)}
    # Only glass and the room's film lie between its inside and the room, timber insulates more.
    ways = {0: 0.015 / 0.13 + 1 / OUTSIDE_FILM, 1: 0.004 / 1.0 + 1 / OUTSIDE_FILM}
    for part in (sheet, pane):
        watts = float(part.loss_w_k @ (found[part.node] - ROOM_C)) / float(np.sum(part.area_m2))
        assert watts == pytest.approx((inner[part.number] - ROOM_C) / ways[part.number], rel=0.1)
    assert inner[1] - ROOM_C < 0.85 * (inner[0] - ROOM_C)


@pytest.mark.parametrize("resolution", [None, COARSE])
def test_the_parts_of_a_face_make_up_the_whole_of_it(resolution: object) -> None:
    source = boxed(
        Inset(0.05, 0.1, 0.55, 0.5, GLASS, "front"),
        Inset(0.55, 0.1, 1.15, 0.5, Wall(), "front"),
        Inset(0.0, 0.0, 1.2, 0.6, GLASS, "top"),
    )
    grid = build_grid(source, resolution)  # type: ignore[arg-type]
    area = {f: sum(float(np.sum(s.area_m2)) for s in grid.sheets if s.face == f) for f in ("front", "top")}
    assert area == pytest.approx({"front": 0.72 - 0.6 * 0.4, "top": 0.72})
    # A lid that is all pane has no sheet left.
    assert [s.number for s in grid.sheets if s.face == "top"] == [1]
    strips = VisibleSurfaces(source, grid).strips
    share = strips.open + np.bincount(strips.of_strip, strips.closed, strips.open.size)
    assert share == pytest.approx(np.ones(share.size))


def test_patches_of_a_pane_lie_within_it() -> None:
    grid = build_grid(boxed(Inset(0.13, 0.07, 0.87, 0.43, GLASS, "front")))
    pane = next(s for s in grid.sheets if s.number == 1)
    p = grid.patches
    mine = np.isin(p.node, pane.node)
    low = (p.centre - np.abs(p.half_u) - np.abs(p.half_v))[mine]
    high = (p.centre + np.abs(p.half_u) + np.abs(p.half_v))[mine]
    assert low.min(axis=0)[[0, 2]] == pytest.approx([0.13, 0.07])
    assert high.max(axis=0)[[0, 2]] == pytest.approx([0.87, 0.43])
    width = 2 * np.abs(p.half_u[mine, 0])
    height = 2 * np.abs(p.half_v[mine, 2])
    assert float(width @ height) == pytest.approx(0.74 * 0.36)
    assert p.area_m2[mine] == pytest.approx(width * height)
