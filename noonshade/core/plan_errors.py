"""Whether a plan can be built: everything inside the enclosure, lamps within their watts, no clashes."""

from __future__ import annotations

import math
from itertools import pairwise

from noonshade.core.errors import PlanError
from noonshade.core.light.sources import frame_of
from noonshade.core.phrase import named, named_first
from noonshade.core.plan import (
    LAMP_KINDS,
    Background,
    Branch,
    Enclosure,
    Face,
    Fixture,
    Furnishing,
    Hide,
    Lamp,
    Leaves,
    LineSource,
    PanelSource,
    Plan,
    Point,
    TableSource,
    Water,
)

MOST_OUTSIDE_M = 0.5
LEAST_AIR_M = 0.05
LEAST_BRANCH_M = 0.05
# A layer thinner than this is not laid.
LEAST_LAYER_M = 0.005

# More basking spots than any animal chooses from.
MOST_BASKING = 8


def plan_errors(plan: Plan) -> list[PlanError]:
    """Every reason why a plan cannot be computed, with the path of the value; empty if none.

    Parameters
    ----------
    plan : Plan
        The plan.

    Returns
    -------
    list[PlanError]
        Every reason why a plan cannot be computed, with the path of the value.
    """
    found: list[PlanError] = []
    enclosure = plan.enclosure
    if plan.substrate.depth_m > enclosure.height_m - LEAST_AIR_M:
        found.append(
            PlanError(
                "/substrate/depth_m",
                f"the substrate must leave {LEAST_AIR_M * 100:.0f} cm of air below the lid: "
                f"at most {_cm(enclosure.height_m - LEAST_AIR_M)}",
            )
        )
        return found
    found += _ground(plan)
    for face in ("left", "right", "front", "back", "floor"):
        wall = enclosure.walls[face]
        if face == "floor" and wall.material is None:
            found.append(PlanError("/enclosure/walls/floor", "the floor must be a solid material"))
    for i, vent in enumerate(enclosure.vents):
        if not 0 <= vent.z_m <= enclosure.height_m:
            found.append(PlanError(f"/enclosure/vents/{i}/z_m", _within("a vent", 0, enclosure.height_m)))
        if not 0 <= vent.x_m <= enclosure.length_m:
            found.append(PlanError(f"/enclosure/vents/{i}/x_m", _within("a vent", 0, enclosure.length_m)))
        if not 0 <= vent.y_m <= enclosure.depth_m:
            found.append(PlanError(f"/enclosure/vents/{i}/y_m", _within("a vent", 0, enclosure.depth_m)))
    found += _insets(enclosure)
    for i, item in enumerate(plan.furnishings):
        found += _furnishing(plan, item, f"/furnishings/{i}")
    for i, fixture in enumerate(plan.fixtures):
        found += _fixture(plan, fixture, f"/fixtures/{i}")
    for i, thermostat in enumerate(plan.thermostats):
        # A probe may lie in the ground, to keep that at a temperature.
        found += _position(plan, thermostat.probe_m, f"/thermostats/{i}/probe_m", "the probe", 0.0)
    found += _unique(plan)
    return found


def _unique(plan: Plan) -> list[PlanError]:
    found = []
    for name, things in (
        ("furnishings", plan.furnishings),
        ("fixtures", plan.fixtures),
        ("thermostats", plan.thermostats),
    ):
        seen: set[str] = set()
        for i, thing in enumerate(things):
            if thing.id in seen:
                found.append(PlanError(f"/{name}/{i}/id", f"the id {thing.id!r} is used twice"))
            seen.add(thing.id)
    if len(plan.basking_slabs) > MOST_BASKING:
        found.append(PlanError("/furnishings", f"at most {MOST_BASKING} slabs can be basking spots"))
    known = {t.id for t in plan.thermostats}
    for i, fixture in enumerate(plan.fixtures):
        if fixture.thermostat_id is not None and fixture.thermostat_id not in known:
            found.append(
                PlanError(
                    f"/fixtures/{i}/thermostat_id",
                    f"no thermostat {fixture.thermostat_id!r} in this plan; "
                    f"known: {', '.join(sorted(known)) or 'none'}",
                )
            )
    return found


def _fixture(plan: Plan, fixture: Fixture, path: str) -> list[PlanError]:
    found = []
    lamp = fixture.lamp
    if not lamp.power_min_w <= fixture.power_w <= lamp.power_max_w:
        allowed = (
            f"{lamp.power_min_w:g} W"
            if lamp.power_min_w == lamp.power_max_w
            else f"{lamp.power_min_w:g} to {lamp.power_max_w:g} W"
        )
        found.append(PlanError(f"{path}/power_w", f"{fixture.power_w:g} W; a {lamp.label} has {allowed}"))
    x, y, z = fixture.position_m
    enclosure, ground = plan.enclosure, plan.substrate.depth_m
    if fixture.against is not None or lamp.kind == "mat":
        return found + _mat(plan, fixture, path)

    def room(face: Face) -> float:
        """How far outside a face a lamp can stand and shine in, m."""
        return MOST_OUTSIDE_M if enclosure.lets_light_in(face) else 0.0

    open_top = enclosure.lets_light_in("top")
    highest = enclosure.height_m + room("top")
    across = (
        ("x_m", x, -room("left"), enclosure.length_m + room("right")),
        ("y_m", y, -room("front"), enclosure.depth_m + room("back")),
    )
    for name, value, low, high in across:
        if not low <= value <= high:
            found.append(PlanError(f"{path}/position_m/{name}", _within("the lamp", low, high)))
    if not ground < z <= highest:
        why = "" if open_top else " (the lid is closed)"
        found.append(PlanError(f"{path}/position_m/z_m", _within("the lamp", ground, highest) + why))
    if not found and enclosure.beyond(fixture.position_m) is None:
        found += _ends(plan, fixture, path)
    return found


def _mat(plan: Plan, fixture: Fixture, path: str) -> list[PlanError]:
    """Whether a mat or cable lies against a closed face, and only such heaters do."""
    if fixture.lamp.kind != "mat":
        return [
            PlanError(f"{path}/mount", f"{fixture.lamp.label} hangs in the air; only mats lie on a face")
        ]
    if fixture.against is None:
        faces = "floor, front, back, left or right"
        return [
            PlanError(f"{path}/mount", f"{named_first(fixture.label)} must lie against a face: {faces}")
        ]
    if plan.enclosure.walls[fixture.against].material is None:
        return [PlanError(f"{path}/mount", f"the {fixture.against} is open; a mat needs a sheet to lie on")]
    enclosure = plan.enclosure
    return [
        PlanError(f"{path}/position_m/{name}", _within(fixture.label, 0, high))
        for name, value, high in zip(
            ("x_m", "y_m", "z_m"),
            fixture.position_m,
            (enclosure.length_m, enclosure.depth_m, enclosure.height_m),
            strict=True,
        )
        if not 0 <= value <= high
    ]


def _ends(plan: Plan, fixture: Fixture, path: str) -> list[PlanError]:
    """Whether a long lamp inside the enclosure reaches through a wall, the lid or the ground."""
    geometry = fixture.lamp.geometry
    if not isinstance(geometry, LineSource | PanelSource):
        return []
    half = geometry.length_m / 2 * frame_of(fixture)[0]
    enclosure, ground = plan.enclosure, plan.substrate.depth_m
    for sign in (-1.0, 1.0):
        x, y, z = (float(c + sign * h) for c, h in zip(fixture.position_m, half, strict=True))
        for name, at, low, high in (
            ("length", x, 0.0, enclosure.length_m),
            ("depth", y, 0.0, enclosure.depth_m),
            ("height", z, ground, enclosure.height_m),
        ):
            if not low - 1e-6 <= at <= high + 1e-6:
                return [
                    PlanError(
                        f"{path}/position_m",
                        f"{named_first(fixture.label)} is {_cm(geometry.length_m)} long and "
                        f"its end reaches {_cm(at)} "
                        f"along the {name}; inside the enclosure it must be between {_cm(low)} and "
                        f"{_cm(high)}",
                    )
                ]
    return []


def _ground(plan: Plan) -> list[PlanError]:
    """Layers that do not fit into the ground, zones that reach out of it or share an id."""
    found, ground, enclosure = [], plan.substrate, plan.enclosure
    lower = sum(layer.depth_m for layer in ground.below)
    if ground.below and ground.depth_m < lower + LEAST_LAYER_M - 1e-9:
        found.append(
            PlanError(
                "/substrate/depth_m",
                f"the layers below take {_cm(lower)}, so the ground must be at least "
                f"{_cm(lower + LEAST_LAYER_M)} deep",
            )
        )
    for i, zone in enumerate(ground.zones):
        for name, at, size, room in (
            ("x_m", zone.x_m, zone.length_m, enclosure.length_m),
            ("y_m", zone.y_m, zone.width_m, enclosure.depth_m),
        ):
            if not size / 2 - 1e-6 <= at <= room - size / 2 + 1e-6:
                where = f"/substrate/zones/{i}/{name}"
                found.append(PlanError(where, f"the zone {zone.label!r} must lie inside the enclosure"))
    for i, burrow in enumerate(ground.burrows):
        where, half = f"/substrate/burrows/{i}", burrow.diameter_m / 2
        deepest = ground.depth_m - half
        if not half - 1e-6 <= burrow.depth_m <= deepest + 1e-6:
            found.append(
                PlanError(
                    f"{where}/depth_m",
                    f"the burrow {burrow.label!r} must lie in the ground: its middle {_cm(half)} to "
                    f"{_cm(max(deepest, half))} below the surface",
                )
            )
        for name, at, room in (
            ("x_m", burrow.x_m, enclosure.length_m),
            ("y_m", burrow.y_m, enclosure.depth_m),
            ("mouth_x_m", burrow.mouth_x_m, enclosure.length_m),
            ("mouth_y_m", burrow.mouth_y_m, enclosure.depth_m),
        ):
            if not half - 1e-6 <= at <= room - half + 1e-6:
                found.append(
                    PlanError(
                        f"{where}/{name}", f"the burrow {burrow.label!r} must lie inside the enclosure"
                    )
                )
    for kind, ids in (
        ("zones", [zone.id for zone in ground.zones]),
        ("burrows", [burrow.id for burrow in ground.burrows]),
    ):
        for i, key in enumerate(ids):
            if key in ids[:i]:
                found.append(PlanError(f"/substrate/{kind}/{i}/id", f"the id {key!r} is used twice"))
    return found


def _insets(enclosure: Enclosure) -> list[PlanError]:
    found = []
    for i, inset in enumerate(enclosure.insets):
        path = f"/enclosure/insets/{i}"
        if inset.face == "floor":
            found.append(PlanError(f"{path}/face", "the floor has no parts; choose the lid or a side"))
            continue
        along, across = enclosure.size_of(inset.face)
        if not (0 <= inset.x0_m < inset.x1_m <= along + 1e-9):
            way = "from front to back" if inset.face in ("left", "right") else "from left to right"
            found.append(PlanError(f"{path}/x1_m", f"must run {way} within {_cm(along)}"))
        if not (0 <= inset.y0_m < inset.y1_m <= across + 1e-9):
            way = "from front to back" if inset.face == "top" else "upwards"
            found.append(PlanError(f"{path}/y1_m", f"must run {way} within {_cm(across)}"))
        if inset.gap_m > 0 and (inset.face == "top" or inset.wall.material is None):
            found.append(PlanError(f"{path}/gap_m", "only a closed part of a side, a door, has a gap"))
        for k, other in enumerate(enclosure.insets[:i]):
            apart = inset.face != other.face
            apart = apart or inset.x0_m >= other.x1_m - 1e-9 or inset.x1_m <= other.x0_m + 1e-9
            apart = apart or inset.y0_m >= other.y1_m - 1e-9 or inset.y1_m <= other.y0_m + 1e-9
            if not apart:
                found.append(PlanError(path, f"overlaps part {k}; parts may only touch"))
    return found


def _position(
    plan: Plan, point: Point, path: str, what: str, lowest_m: float | None = None
) -> list[PlanError]:
    enclosure = plan.enclosure
    lowest = plan.substrate.depth_m if lowest_m is None else lowest_m
    limits = (
        ("x_m", point[0], 0.0, enclosure.length_m),
        ("y_m", point[1], 0.0, enclosure.depth_m),
        ("z_m", point[2], lowest, enclosure.height_m),
    )
    return [
        PlanError(f"{path}/{name}", _within(what, low, high))
        for name, value, low, high in limits
        if not low - 1e-9 <= value <= high + 1e-9
    ]


def _furnishing(plan: Plan, item: Furnishing, path: str) -> list[PlanError]:
    enclosure = plan.enclosure
    found: list[PlanError] = []
    if isinstance(item, Branch):
        for name, point in (("start_m", item.start_m), ("end_m", item.end_m)):
            found += _position(plan, point, f"{path}/{name}", f"each end of {named(item.label)}")
        if math.dist(item.start_m, item.end_m) < LEAST_BRANCH_M:
            found.append(
                PlanError(
                    f"{path}/end_m",
                    f"{named_first(item.label)} must be at least {_cm(LEAST_BRANCH_M)} long",
                )
            )
        return found
    if isinstance(item, Background):
        across = enclosure.length_m if item.side in ("left", "right") else enclosure.depth_m
        if item.thickness_m > across / 2:
            found.append(
                PlanError(
                    f"{path}/thickness_m",
                    f"{named_first(item.label)} fills the enclosure: at most {_cm(across / 2)}",
                )
            )
        return found
    for axis, centre, size, room in (
        ("x_m", item.x_m, item.length_m, enclosure.length_m),
        ("y_m", item.y_m, item.width_m, enclosure.depth_m),
    ):
        if size > room:
            name = "length_m" if axis == "x_m" else "width_m"
            found.append(
                PlanError(
                    f"{path}/{name}",
                    f"{named_first(item.label)} is larger than the enclosure: at most {_cm(room)}",
                )
            )
        elif centre - size / 2 < -1e-9 or centre + size / 2 > room + 1e-9:
            found.append(
                PlanError(
                    f"{path}/{axis}",
                    _within(f"the middle of {named(item.label)}", size / 2, room - size / 2),
                )
            )
    clear = enclosure.height_m - plan.substrate.depth_m
    if isinstance(item, Hide):
        if item.height_m > clear:
            found.append(
                PlanError(
                    f"{path}/height_m", f"{named_first(item.label)} touches the lid: at most {_cm(clear)}"
                )
            )
        if 2 * item.wall_m >= min(item.length_m, item.width_m) or item.wall_m >= item.height_m:
            found.append(
                PlanError(f"{path}/wall_m", f"{named_first(item.label)} has no room inside its walls")
            )
        side = item.width_m if item.opening in ("left", "right") else item.length_m
        if item.opening_width_m > side:
            found.append(PlanError(f"{path}/opening_width_m", f"wider than the hide: at most {_cm(side)}"))
        if item.opening_height_m > item.height_m - item.wall_m:
            found.append(
                PlanError(
                    f"{path}/opening_height_m",
                    f"higher than the inside: at most {_cm(item.height_m - item.wall_m)}",
                )
            )
    elif isinstance(item, Leaves):
        if item.underside_m + item.height_m > clear + 1e-9:
            found.append(
                PlanError(
                    f"{path}/underside_m",
                    f"{named_first(item.label)} touches the lid: at most {_cm(clear - item.height_m)}",
                )
            )
    elif isinstance(item, Water):
        if item.depth_m > clear:
            found.append(
                PlanError(
                    f"{path}/depth_m",
                    f"{named_first(item.label)} is deeper than the enclosure: {_cm(clear)}",
                )
            )
    elif item.underside_m + item.thickness_m > clear:
        found.append(
            PlanError(
                f"{path}/underside_m",
                f"{named_first(item.label)} touches the lid: at most {_cm(clear - item.thickness_m)}",
            )
        )
    elif item.stack is not None and (
        item.stack.length_m > item.length_m or item.stack.width_m > item.width_m
    ):
        found.append(
            PlanError(f"{path}/stack", f"the stack must not be larger than {named(item.label)} on it")
        )
    return found


def _within(what: str, low: float, high: float) -> str:
    return f"{what} must lie between {_cm(low)} and {_cm(high)}"


def _cm(metres: float) -> str:
    return f"{metres * 100:.4g} cm"


def lamp_errors(lamp: Lamp) -> list[PlanError]:
    """Every reason why a lamp cannot be computed, with the path of the value; empty if none.

    Parameters
    ----------
    lamp : Lamp
        The lamp.

    Returns
    -------
    list[PlanError]
        Every reason why a lamp cannot be computed, with the path of the value.
    """
    found: list[PlanError] = []

    def require(holds: bool, path: str, message: str) -> None:
        if not holds:
            found.append(PlanError(path, message))

    # The warnings about burns go by kind, so a misspelt one must not slip through.
    require(lamp.kind in LAMP_KINDS, "/kind", f"must be one of {', '.join(sorted(LAMP_KINDS))}")
    require(
        0 < lamp.power_min_w <= lamp.power_w <= lamp.power_max_w,
        "/power_w",
        "power_w must lie between power_min_w and power_max_w, above 0",
    )
    require(
        all(lamp.power_min_w <= w <= lamp.power_max_w for w in lamp.power_choices_w),
        "/power_choices_w",
        "every choice must lie between power_min_w and power_max_w",
    )
    require(
        -1e-9 <= lamp.convected <= 1,
        "/forward_radiant",
        "the radiant shares must not be negative and sum to at most 1",
    )
    require((lamp.uv is None) == (lamp.ageing is None), "/uv", "uv and ageing go together")
    if lamp.uv is not None:
        require(lamp.uv.uvi > 0 and lamp.uv.distance_m > 0, "/uv", "UV index and distance must be above 0")
    if lamp.ageing is not None:
        require(0 <= lamp.ageing.remaining <= 1, "/ageing/remaining", "must be 0–1")
        require(lamp.ageing.time_constant_h > 0, "/ageing/time_constant_h", "must be above 0")
    if isinstance(lamp.geometry, TableSource):
        found += _table_errors(lamp.geometry)
        if not found and lamp.uv is not None:
            on_axis = lamp.geometry.intensity[0][0]
            require(on_axis > 0, "/geometry/intensity", "gives nothing ahead, where the UV was read")
    return found


def _table_errors(table: TableSource) -> list[PlanError]:
    path = "/geometry"
    gamma, c = table.gamma_deg, table.c_deg
    if len(gamma) < 2 or gamma[0] != 0 or gamma[-1] > 180 or any(b <= a for a, b in pairwise(gamma)):
        return [PlanError(f"{path}/gamma_deg", "must rise from 0 to at most 180")]
    if c[0] != 0 or any(b <= a for a, b in pairwise(c)) or (len(c) > 1 and c[-1] != 360):
        return [PlanError(f"{path}/c_deg", "must be 0 alone, or rise from 0 to 360")]
    if len(table.intensity) != len(c) or any(len(row) != len(gamma) for row in table.intensity):
        return [PlanError(f"{path}/intensity", f"must have {len(c)} rows of {len(gamma)} values")]
    if any(value < 0 for row in table.intensity for value in row):
        return [PlanError(f"{path}/intensity", "must not be negative")]
    if not any(value > 0 for row in table.intensity for value in row):
        return [PlanError(f"{path}/intensity", "must not be 0 everywhere")]
    return []
