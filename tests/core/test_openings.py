"""What passes vents, holes, meshed sides and open lids."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from noonshade.core.heat.climate import steady_climate
from noonshade.core.heat.geometry import build_grid
from noonshade.core.heat.openings import Exchange, exchange_through, openings_of
from noonshade.core.plan import Enclosure, Inset, Neighbour, Plan, Vent, VentFace, Wall
from tests.builders import CATALOG, lamp, plan, timber_enclosure, walls

MESH = Wall(mesh=CATALOG.meshes["medium-0.7-4.0"])
AREA_M2 = 0.004


def vented(*vents: Vent) -> Enclosure:
    return replace(timber_enclosure(), vents=vents)


def vent(side: VentFace, z_m: float, area_m2: float = AREA_M2, holes: int = 1) -> Vent:
    return Vent(side, 1.2 if side == "right" else 0.0, z_m, area_m2, holes)


def passing(enclosure: Enclosure, inside_c: float, room_c: float) -> Exchange:
    """What passes when all the air is as warm."""
    grid = build_grid(plan(enclosure)).air
    return exchange_through(
        openings_of(enclosure, grid), grid, np.full((grid.nx, grid.nz), inside_c), room_c
    )


def test_two_vents_follow_the_stack_formula() -> None:
    found = passing(vented(vent("left", 0.5), vent("right", 0.15)), 26.0, 21.0)
    # Two equal vents H apart: C_d A √(2 g (H/2) ΔT/T).
    expected = 0.6 * AREA_M2 * np.sqrt(9.80665 * 0.35 * 5.0 / 294.15)
    assert float(found.into.sum()) == pytest.approx(expected, rel=0.01)
    assert float(found.out.sum()) == pytest.approx(float(found.into.sum()))
    assert found.into[-1].sum() == pytest.approx(float(found.into.sum()))
    assert found.out[0].sum() == pytest.approx(float(found.out.sum()))
    still = passing(vented(vent("left", 0.5), vent("right", 0.15)), 21.0, 21.0)
    assert float(still.into.sum()) < 1e-6


@pytest.mark.parametrize("sides", [("left",), ("left", "right")])
def test_vents_at_one_height_exchange_both_ways_as_doorways_do(sides: tuple[VentFace, ...]) -> None:
    found = passing(vented(*(vent(side, 0.3) for side in sides)), 30.0, 20.0)
    expected = len(sides) * 0.6 / 3 * AREA_M2 * np.sqrt(9.80665 * np.sqrt(AREA_M2) * 10.0 / 293.15)
    assert float(found.into.sum()) == pytest.approx(expected, rel=0.02)
    assert float(found.out.sum()) == pytest.approx(float(found.into.sum()))
    # Draught and diffusion pass as well, warm or not.
    assert float(passing(vented(vent("left", 0.3)), 20.0, 20.0).still_w_k.sum()) > 0


def test_many_small_holes_pass_less_by_warmth_and_more_by_diffusion_than_one_large() -> None:
    one, many = (passing(vented(vent("left", 0.3, holes=holes)), 30.0, 20.0) for holes in (1, 100))
    assert float(many.into.sum()) < 0.5 * float(one.into.sum())
    assert float(many.still_w_k.sum()) > float(one.still_w_k.sum())


def test_holes_in_the_lid_swap_warm_air_for_cool_and_none_for_warmer() -> None:
    enclosure = vented(Vent("top", 0.6, 0.0, AREA_M2, 10, 0.3))
    warm, cool = passing(enclosure, 30.0, 20.0), passing(enclosure, 15.0, 20.0)
    assert float(warm.still_w_k.sum()) > 1.5 * float(cool.still_w_k.sum()) > 0
    assert float(warm.lid.sum()) == 0
    column = build_grid(plan(enclosure)).air.column(0.6)
    assert float(warm.still_w_k[column, -1]) == pytest.approx(float(warm.still_w_k.sum()))


def test_air_goes_in_at_a_vent_and_out_through_an_open_lid() -> None:
    open_lid = replace(vented(vent("left", 0.1)), walls={**walls("timber", 0.015), "top": MESH})
    found = passing(open_lid, 27.0, 20.0)
    assert float(found.out.sum()) == pytest.approx(0.0, abs=1e-9)
    assert float(found.lid.sum()) == pytest.approx(float(found.into.sum()))
    # Its whole height drives it, since the lid is far the larger opening.
    assert float(found.into.sum()) == pytest.approx(
        0.6 * AREA_M2 * np.sqrt(2 * 9.80665 * 0.5 * 7.0 / 293.15), rel=0.03
    )


@pytest.mark.parametrize(("inside", "room"), [(28.0, 20.0), (18.0, 26.0)])
def test_cool_air_that_comes_in_falls_and_warm_air_rises(inside: float, room: float) -> None:
    enclosure = timber_enclosure()
    grid = build_grid(plan(enclosure)).air
    found = passing(enclosure, inside, room)
    heights = found.into.sum(axis=0) @ grid.z / found.into.sum()
    low, high = min(v.z_m for v in enclosure.vents), max(v.z_m for v in enclosure.vents)
    assert heights < low if inside > room else heights > high - 0.1


def lidded(*closed: Inset, neighbours: dict[str, Neighbour] | None = None) -> Plan:
    enclosure = replace(
        timber_enclosure(),
        vents=(),
        walls={**walls("timber", 0.015), "top": MESH},
        insets=closed,
        neighbours=neighbours or {},  # type: ignore[arg-type]
    )
    return plan(enclosure, fixtures=(lamp("ceramic-heater", 60, 0.3, 0.3, 0.4),))


def mean_air(source: Plan) -> float:
    return float(np.mean(steady_climate(source).air_c))


def test_half_a_lid_keeps_more_warmth_where_the_heater_is() -> None:
    sheet = timber_enclosure().walls["left"]
    over, beside = (lidded(Inset(x0, 0.0, x0 + 0.6, 0.6, sheet)) for x0 in (0.0, 0.6))
    assert mean_air(over) > mean_air(beside) + 0.3
    assert mean_air(beside) > mean_air(lidded()) + 0.1


def test_an_enclosure_standing_on_a_mesh_lid_closes_and_warms_it() -> None:
    cool, warm = (lidded(neighbours={"top": Neighbour("Upper", t, t)}) for t in (21.0, 30.0))
    assert mean_air(cool) > mean_air(lidded()) + 1.0
    assert mean_air(warm) > mean_air(cool) + 1.0
    openings = openings_of(warm.enclosure, build_grid(warm).air)
    assert openings.column.size == 0
