"""Enclosure, furnishings and lamps as they are drawn, from the front and from above."""

from __future__ import annotations

import math

from noonshade.core.plan import (
    Background,
    BeamSource,
    Branch,
    Fixture,
    Furnishing,
    Hide,
    Leaves,
    LineSource,
    PanelSource,
    Plan,
    Slab,
    TableSource,
    Vent,
    Wall,
    Water,
)
from noonshade.formats.drawing import paper
from noonshade.formats.drawing.ground_colours import ground_colour
from noonshade.formats.drawing.paper import Drawing, Frame

# Thickness walls are drawn with when they have none given, m.
SHEET_M = 0.006


# Side view of a small lizard, in body lengths: snout at 1, feet at 0.
def thickness(wall: Wall) -> float:
    """How thick a wall is drawn, m."""
    return max(wall.thickness_m, SHEET_M) if wall.material is not None else SHEET_M


def _ground(drawing: Drawing, frame: Frame, plan: Plan) -> None:
    """Layers from the top down, the sheets between them, and damp parts of the surface."""
    length, high = plan.enclosure.length_m, plan.substrate.depth_m
    for layer in plan.substrate.layers:
        if layer.depth_m <= 0:
            continue
        drawing.rect(
            frame.x(0),
            frame.y(high),
            frame.size(length),
            frame.size(layer.depth_m),
            fill=ground_colour(layer),
        )
        if layer.barrier:
            ends = ((frame.x(0), frame.y(high)), (frame.x(length), frame.y(high)))
            drawing.line(*ends, stroke=paper.INK, stroke_width=1.0, stroke_dasharray="4 3")
        high -= layer.depth_m
    surface = plan.substrate.depth_m
    for burrow in plan.substrate.burrows:
        end = (frame.x(burrow.x_m), frame.y(surface - burrow.depth_m))
        drawing.line(
            (frame.x(burrow.mouth_x_m), frame.y(surface)),
            end,
            stroke=paper.BARK,
            stroke_width=0.6 * frame.size(burrow.diameter_m),
        )
        wide = frame.size(burrow.diameter_m)
        drawing.add("ellipse", "", cx=end[0], cy=end[1], rx=0.7 * wide, ry=0.5 * wide, fill=paper.BARK)
    for zone in plan.substrate.zones:
        drawing.rect(
            frame.x(zone.x_m - zone.length_m / 2),
            frame.y(surface),
            frame.size(zone.length_m),
            min(3.0, frame.size(surface)),
            fill=paper.WATER,
        )


def enclosure_front(drawing: Drawing, frame: Frame, plan: Plan) -> None:
    """Ground, walls, parts of walls and vents, seen from the front."""
    enclosure = plan.enclosure
    _ground(drawing, frame, plan)
    left, right = thickness(enclosure.walls["left"]), thickness(enclosure.walls["right"])
    top, floor = thickness(enclosure.walls["top"]), thickness(enclosure.walls["floor"])
    whole = enclosure.length_m + left + right
    _strip(drawing, frame, enclosure.walls["left"], (-left, 0.0, left, enclosure.height_m))
    _strip(drawing, frame, enclosure.walls["right"], (enclosure.length_m, 0.0, right, enclosure.height_m))
    _strip(drawing, frame, enclosure.walls["top"], (-left, enclosure.height_m, whole, top))
    _strip(drawing, frame, enclosure.walls["floor"], (-left, -floor, whole, floor))
    for inset in enclosure.insets:
        if inset.face == "top":
            where = (inset.x0_m, enclosure.height_m, inset.x1_m - inset.x0_m, top)
        elif inset.face == "left":
            where = (-left, inset.y0_m, left, inset.y1_m - inset.y0_m)
        elif inset.face == "right":
            where = (enclosure.length_m, inset.y0_m, right, inset.y1_m - inset.y0_m)
        else:
            drawing.rect(
                frame.x(inset.x0_m),
                frame.y(inset.y1_m),
                frame.size(inset.x1_m - inset.x0_m),
                frame.size(inset.y1_m - inset.y0_m),
                fill="none",
                stroke=paper.EDGE,
                stroke_dasharray="10 4",
            )
            continue
        x, z, wide, tall = where
        drawing.rect(frame.x(x), frame.y(z + tall), frame.size(wide), frame.size(tall), fill=paper.PAPER)
        _strip(drawing, frame, inset.wall, where)
    for vent in enclosure.vents:
        _vent(drawing, frame, plan, vent)


def _vent(drawing: Drawing, frame: Frame, plan: Plan, vent: Vent) -> None:
    enclosure, side = plan.enclosure, vent.side
    # As a square of its area, as the air in it is computed.
    size = max(0.012, math.sqrt(vent.area_m2))
    dashed: dict[str, str | float] = {
        "fill": paper.PAPER,
        "stroke": paper.EDGE,
        "stroke_dasharray": "2 2",
    }
    if side == "top":
        wide, tall = size, thickness(enclosure.walls["top"])
        drawing.rect(
            frame.x(vent.x_m - wide / 2),
            frame.y(enclosure.height_m + tall),
            frame.size(wide),
            frame.size(tall),
            **dashed,
        )
    elif side in ("left", "right"):
        wide = thickness(enclosure.walls["left" if side == "left" else "right"])
        x = -wide if side == "left" else enclosure.length_m
        drawing.rect(frame.x(x), frame.y(vent.z_m + size / 2), frame.size(wide), frame.size(size), **dashed)
    else:
        drawing.rect(
            frame.x(vent.x_m - size / 2),
            frame.y(vent.z_m + size / 2),
            frame.size(size),
            frame.size(size),
            **{**dashed, "fill": "none"},
        )


def _strip(drawing: Drawing, frame: Frame, wall: Wall, where: tuple[float, float, float, float]) -> None:
    x, z, wide, tall = where
    if wall.material is None and wall.mesh is None:
        return
    mesh = wall.material is None
    look: dict[str, str | float] = (
        {"fill": "none", "stroke": paper.EDGE, "stroke_width": 1.5, "stroke_dasharray": "2 2.5"}
        if mesh
        else {"fill": paper.BOARD, "stroke": paper.EDGE, "stroke_width": 0.75}
    )
    drawing.rect(frame.x(x), frame.y(z + tall), frame.size(wide), frame.size(tall), **look)


def furnishing_front(drawing: Drawing, frame: Frame, plan: Plan, item: Furnishing) -> None:
    """One furnishing, seen from the front."""
    ground = plan.substrate.depth_m
    if isinstance(item, Branch):
        (ax, _, az), (bx, _, bz) = item.start_m, item.end_m
        drawing.line(
            (frame.x(ax), frame.y(az)),
            (frame.x(bx), frame.y(bz)),
            stroke=paper.BARK,
            stroke_width=max(3.0, frame.size(item.diameter_m)),
            stroke_linecap="round",
        )
        return
    if isinstance(item, Background):
        if item.side in ("left", "right"):
            x = 0.0 if item.side == "left" else plan.enclosure.length_m - item.thickness_m
            drawing.rect(
                frame.x(x),
                frame.y(plan.enclosure.height_m),
                max(3.0, frame.size(item.thickness_m)),
                frame.size(plan.enclosure.height_m - ground),
                fill=paper.BARK,
                opacity=0.8,
            )
        return
    left, wide = frame.x(item.x_m - item.length_m / 2), frame.size(item.length_m)
    if isinstance(item, Slab):
        if item.stack is not None and item.underside_m > 0:
            drawing.rect(
                frame.x(item.x_m - item.stack.length_m / 2),
                frame.y(ground + item.underside_m),
                frame.size(item.stack.length_m),
                frame.size(item.underside_m),
                rx=3,
                fill=_solid(item),
                opacity=0.75,
            )
        top = ground + item.underside_m + item.thickness_m
        drawing.rect(left, frame.y(top), wide, frame.size(item.thickness_m), rx=2, fill=_solid(item))
    elif isinstance(item, Hide):
        _hide_front(drawing, frame, item, ground)
    elif isinstance(item, Water):
        drawing.rect(
            left,
            frame.y(ground),
            wide,
            frame.size(item.depth_m),
            fill=paper.WATER,
            fill_opacity=0.35,
            stroke=paper.WATER,
        )
    else:
        top = ground + item.underside_m + item.height_m
        drawing.rect(left, frame.y(top), wide, frame.size(item.height_m), **_LEAFY)


_LEAFY: dict[str, str | float] = {
    "rx": 8,
    "fill": paper.LEAF,
    "fill_opacity": 0.3,
    "stroke": paper.LEAF,
    "stroke_dasharray": "3 3",
}


def _solid(slab: Slab) -> str:
    return paper.BARK if slab.material.density_kg_m3 < 1000.0 else paper.STONE


def _hide_front(drawing: Drawing, frame: Frame, hide: Hide, ground: float) -> None:
    x0, x1 = hide.x_m - hide.length_m / 2, hide.x_m + hide.length_m / 2
    top, wall = ground + hide.height_m, hide.wall_m
    door = min(hide.opening_height_m, hide.height_m - wall)
    drawing.rect(
        frame.x(x0),
        frame.y(top),
        frame.size(x1 - x0),
        frame.size(hide.height_m),
        rx=4,
        fill=paper.BARK,
        fill_opacity=0.35,
        stroke=paper.BARK,
        stroke_width=max(2.0, frame.size(wall)),
    )
    if hide.opening in ("left", "right"):
        x = x0 if hide.opening == "left" else x1
        drawing.line(
            (frame.x(x), frame.y(ground)),
            (frame.x(x), frame.y(ground + door)),
            stroke=paper.PAPER,
            stroke_width=max(3.0, frame.size(wall) + 1.0),
        )
    elif hide.opening == "front":
        drawing.rect(
            frame.x(hide.x_m - hide.opening_width_m / 2),
            frame.y(ground + door),
            frame.size(hide.opening_width_m),
            frame.size(door),
            fill=paper.PAPER,
            fill_opacity=0.6,
            stroke=paper.BARK,
            stroke_dasharray="3 2",
        )


def furnishing_above(drawing: Drawing, frame: Frame, plan: Plan, item: Furnishing) -> None:
    """One furnishing, seen from above."""
    if isinstance(item, Branch):
        (ax, ay, _), (bx, by, _) = item.start_m, item.end_m
        drawing.line(
            (frame.x(ax), frame.y(ay)),
            (frame.x(bx), frame.y(by)),
            stroke=paper.BARK,
            stroke_width=max(3.0, frame.size(item.diameter_m)),
            stroke_linecap="round",
            opacity=0.75,
        )
        return
    if isinstance(item, Background):
        enclosure, thick = plan.enclosure, item.thickness_m
        x = enclosure.length_m - thick if item.side == "right" else 0.0
        y = enclosure.depth_m - thick if item.side == "back" else 0.0
        across = item.side in ("front", "back")
        wide, deep = (enclosure.length_m, thick) if across else (thick, enclosure.depth_m)
        drawing.rect(
            frame.x(x),
            frame.y(y + deep),
            max(3.0, frame.size(wide)),
            max(3.0, frame.size(deep)),
            fill=paper.BARK,
            opacity=0.8,
        )
        return
    look: dict[str, str | float]
    if isinstance(item, Leaves):
        look = _LEAFY
    elif isinstance(item, Water):
        look = {
            "rx": 6,
            "fill": paper.WATER,
            "fill_opacity": 0.25,
            "stroke": paper.WATER,
            "stroke_width": 2,
        }
    elif isinstance(item, Hide):
        look = {
            "rx": 4,
            "fill": "none",
            "stroke": paper.BARK,
            "stroke_width": 2.5,
            "stroke_dasharray": "6 3",
        }
    else:
        look = {
            "rx": 2,
            "fill": paper.STONE,
            "fill_opacity": 0.25,
            "stroke": paper.STONE,
            "stroke_width": 2,
        }
    drawing.rect(
        frame.x(item.x_m - item.length_m / 2),
        frame.y(item.y_m + item.width_m / 2),
        frame.size(item.length_m),
        frame.size(item.width_m),
        **look,
    )


def lamp_front(drawing: Drawing, frame: Frame, plan: Plan, fixture: Fixture) -> None:
    """A lamp with its screen, its guard and the edges of its beam, seen from the front."""
    lamp, geometry = fixture.lamp, fixture.lamp.geometry
    mx, _, mz = fixture.position_m
    x, y = frame.x(mx), frame.y(mz)
    half = max(6.0, frame.size(lamp_length(fixture) / 2) * _seen(fixture))
    if isinstance(geometry, BeamSource):
        reach = mz - plan.substrate.depth_m
        aside = min(reach * math.tan(math.radians(geometry.fwhm_deg / 2)), 2.0 * plan.enclosure.length_m)
        foot = frame.y(plan.substrate.depth_m)
        drawing.add(
            "path",
            d=f"M{frame.x(mx - aside)} {foot}L{x} {y}L{frame.x(mx + aside)} {foot}",
            fill="none",
            stroke="white",
            stroke_opacity=0.6,
            stroke_width=1.25,
            stroke_dasharray="5 5",
        )
    if lamp.kind == "mat":
        drawing.rect(x - half, y + 3, 2 * half, 5, rx=2, fill=paper.GLOW_HEAT, stroke=paper.INK)
        return
    if isinstance(geometry, BeamSource | TableSource):
        drawing.add(
            "path",
            d=f"M{x - 5} {y - 17}h10l2.4 5l3 11h-20.8l3 -11z",
            fill=paper.PAPER,
            stroke=paper.INK,
            stroke_width=1.25,
        )
        drawing.add("ellipse", cx=x, cy=y - 1, rx=10, ry=4, fill=_glow(fixture))
        half = 10.0
    else:
        drawing.rect(x - half, y - 7, 2 * half, 5, rx=2, fill=paper.PAPER, stroke=paper.INK)
        drawing.rect(x - half, y - 3, 2 * half, 5, rx=2.5, fill=_glow(fixture), stroke=paper.INK)
    if fixture.screen is not None:
        drawing.line(
            (x - half - 6, y + 8),
            (x + half + 6, y + 8),
            stroke=paper.INK,
            stroke_width=3,
            stroke_dasharray="1.5 2.5",
        )
    if fixture.guard:
        drawing.rect(
            x - half - 7,
            y - 20,
            2 * half + 14,
            36,
            rx=5,
            fill="none",
            stroke=paper.INK,
            stroke_dasharray="4 2",
        )


def lamp_above(drawing: Drawing, frame: Frame, fixture: Fixture) -> None:
    """A lamp, seen from above."""
    x, y = frame.x(fixture.position_m[0]), frame.y(fixture.position_m[1])
    geometry = fixture.lamp.geometry
    half, wide = 10.0, 10.0
    if isinstance(geometry, LineSource):
        half, wide = frame.size(geometry.length_m / 2), 4.0
    elif isinstance(geometry, PanelSource):
        half, wide = frame.size(geometry.length_m / 2), frame.size(geometry.width_m / 2)
    drawing.rect(
        x - half,
        y - wide,
        2 * half,
        2 * wide,
        rx=min(half, wide, 10.0),
        fill=_glow(fixture),
        fill_opacity=0.3 if isinstance(geometry, PanelSource) else 0.6,
        stroke=paper.INK,
        stroke_width=1.25,
        transform=f"rotate({-fixture.turn_deg:g} {x} {y})",
    )


def lamp_length(fixture: Fixture) -> float:
    """How long a lamp is, m; about 9 cm where it is a bulb."""
    geometry = fixture.lamp.geometry
    return geometry.length_m if isinstance(geometry, LineSource | PanelSource) else 0.09


def _seen(fixture: Fixture) -> float:
    """How much of its length shows from the front."""
    return max(0.15, abs(math.cos(math.radians(fixture.turn_deg))))


def _glow(fixture: Fixture) -> str:
    if fixture.lamp.uv is not None:
        return paper.GLOW_UV
    return paper.GLOW_LIGHT if fixture.lamp.gives_light else paper.GLOW_HEAT


# The same from above: the middle line at 0.
