"""Whether a plan can be built: everything inside the box, lamps within their watts, no clashes."""

from __future__ import annotations

from noonshade.core.errors import PlanError
from noonshade.core.plan import Fixture, Furnishing, Hide, Plan, Point, Slab

MOST_ABOVE_LID_M = 0.5
LEAST_AIR_M = 0.05


def plan_errors(plan: Plan) -> list[PlanError]:
    """Every reason why a plan cannot be computed, with the path of the value; empty if none."""
    found: list[PlanError] = []
    box = plan.box
    if plan.substrate.depth_m > box.height_m - LEAST_AIR_M:
        found.append(
            PlanError(
                "/substrate/depth_m",
                f"the substrate must leave {LEAST_AIR_M * 100:.0f} cm of air below the lid: "
                f"at most {_cm(box.height_m - LEAST_AIR_M)}",
            )
        )
        return found
    for face in ("left", "right", "front", "back", "floor"):
        wall = box.walls[face]
        if face == "floor" and wall.material is None:
            found.append(PlanError("/box/walls/floor", "the floor must be a solid material"))
    for i, vent in enumerate(box.vents):
        if not 0 <= vent.z_m <= box.height_m:
            found.append(PlanError(f"/box/vents/{i}/z_m", _within("a vent", 0, box.height_m)))
        if not 0 <= vent.x_m <= box.length_m:
            found.append(PlanError(f"/box/vents/{i}/x_m", _within("a vent", 0, box.length_m)))
    for i, item in enumerate(plan.furnishings):
        found += _furnishing(plan, item, f"/furnishings/{i}")
    for i, fixture in enumerate(plan.fixtures):
        found += _fixture(plan, fixture, f"/fixtures/{i}")
    for i, thermostat in enumerate(plan.thermostats):
        found += _position(plan, thermostat.probe_m, f"/thermostats/{i}/probe_m", "the probe")
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
    if sum(isinstance(f, Slab) and f.basking for f in plan.furnishings) > 1:
        found.append(PlanError("/furnishings", "only one slab can be the basking place"))
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
    box, ground = plan.box, plan.substrate.depth_m
    open_top = box.walls["top"].open_fraction > 0
    highest = box.height_m + (MOST_ABOVE_LID_M if open_top else 0.0)
    if not 0 <= x <= box.length_m:
        found.append(PlanError(f"{path}/position_m/x_m", _within("the lamp", 0, box.length_m)))
    if not 0 <= y <= box.depth_m:
        found.append(PlanError(f"{path}/position_m/y_m", _within("the lamp", 0, box.depth_m)))
    if not ground < z <= highest:
        why = "" if open_top else " (the lid is closed)"
        found.append(PlanError(f"{path}/position_m/z_m", _within("the lamp", ground, highest) + why))
    return found


def _position(plan: Plan, point: Point, path: str, what: str) -> list[PlanError]:
    box = plan.box
    limits = (
        ("x_m", point[0], 0.0, box.length_m),
        ("y_m", point[1], 0.0, box.depth_m),
        ("z_m", point[2], plan.substrate.depth_m, box.height_m),
    )
    return [
        PlanError(f"{path}/{name}", _within(what, low, high))
        for name, value, low, high in limits
        if not low - 1e-9 <= value <= high + 1e-9
    ]


def _furnishing(plan: Plan, item: Furnishing, path: str) -> list[PlanError]:
    box = plan.box
    found = []
    for axis, centre, size, room in (
        ("x_m", item.x_m, item.length_m, box.length_m),
        ("y_m", item.y_m, item.width_m, box.depth_m),
    ):
        if size > room:
            name = "length_m" if axis == "x_m" else "width_m"
            found.append(
                PlanError(f"{path}/{name}", f"{item.label} is larger than the box: at most {_cm(room)}")
            )
        elif centre - size / 2 < -1e-9 or centre + size / 2 > room + 1e-9:
            found.append(
                PlanError(
                    f"{path}/{axis}",
                    _within(f"the middle of {item.label}", size / 2, room - size / 2),
                )
            )
    clear = box.height_m - plan.substrate.depth_m
    if isinstance(item, Hide):
        if item.height_m > clear:
            found.append(
                PlanError(f"{path}/height_m", f"{item.label} touches the lid: at most {_cm(clear)}")
            )
        if 2 * item.wall_m >= min(item.length_m, item.width_m) or item.wall_m >= item.height_m:
            found.append(PlanError(f"{path}/wall_m", f"{item.label} has no room inside its walls"))
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
    elif item.underside_m + item.thickness_m > clear:
        found.append(
            PlanError(
                f"{path}/underside_m",
                f"{item.label} touches the lid: at most {_cm(clear - item.thickness_m)}",
            )
        )
    elif item.stack is not None and (
        item.stack.length_m > item.length_m or item.stack.width_m > item.width_m
    ):
        found.append(PlanError(f"{path}/stack", f"the stack must not be larger than {item.label} on it"))
    return found


def _within(what: str, low: float, high: float) -> str:
    return f"{what} must lie between {_cm(low)} and {_cm(high)}"


def _cm(metres: float) -> str:
    return f"{metres * 100:.4g} cm"
