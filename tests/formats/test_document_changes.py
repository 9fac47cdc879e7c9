"""What differs between two documents, in words."""

from __future__ import annotations

from importlib.resources import files
from typing import Any

from noonshade.core.phrase import plain_text
from noonshade.formats.document_changes import document_changes
from noonshade.formats.plan_document import PlanDocument, parse_plan, plan_from
from tests.builders import CATALOG, demo_raw

DRAGON = parse_plan((files("noonshade.demo") / "sample.json").read_text(encoding="utf-8"))


def _describe(before: PlanDocument, after: PlanDocument) -> list[str]:
    return [
        f"{c.thing}: {c.what}: {plain_text(c.before)} to {plain_text(c.after)}"
        for c in document_changes(before, after, CATALOG)
    ]


def _edited(edit: Any) -> PlanDocument:
    raw = demo_raw()
    edit(raw)
    return plan_from(raw)


def test_the_same_document_has_no_changes() -> None:
    document = plan_from(demo_raw())
    assert document_changes(document, document, CATALOG) == ()


def test_values_have_their_units() -> None:
    def edit(raw: dict[str, Any]) -> None:
        raw["fixtures"][0]["position_m"]["z_m"] = 0.52
        raw["fixtures"][0]["power_w"] = 50
        raw["thermostats"][0]["night_set_point_c"] = 20
        raw["fixtures"][1]["screen_id"] = "fine-0.5-2.0"
        raw["room"]["relative_humidity"] = 0.6

    assert _describe(plan_from(demo_raw()), _edited(edit)) == [
        "Room: humidity: 45 % to 60 %",
        "Basking lamp: power: 75 W to 50 W",
        "Basking lamp: height above the enclosure floor: 50 cm to 52 cm",
        "UV tube: screen below it: none to Fine mesh, 0.5 mm wire at 2.0 mm",
        "Thermostat: set by night: none to 20.0 °C",
    ]


def test_things_that_came_and_went_are_named() -> None:
    def edit(raw: dict[str, Any]) -> None:
        gone = raw["furnishings"].pop()
        raw["pins"] = [{"id": "pin-1", "label": "Ledge", "at_m": {"x_m": 0.1, "y_m": 0.1, "z_m": 0.3}}]
        raw["furnishings"].append({**gone, "id": "new", "label": "New hide"})

    shown = document_changes(plan_from(demo_raw()), _edited(edit), CATALOG)
    assert [(c.thing, c.what) for c in shown] == [
        ("Cool hide", "Furnishing, only before"),
        ("New hide", "Furnishing, only after"),
        ("Ledge", "Pinned place, only after"),
    ]


def test_order_of_things_does_not_count() -> None:
    turned = _edited(lambda raw: raw["fixtures"].reverse())
    assert document_changes(plan_from(demo_raw()), turned, CATALOG) == ()


def test_walls_that_differ_alike_are_said_once_and_by_their_material() -> None:
    def edit(raw: dict[str, Any]) -> None:
        for wall in raw["enclosure"]["walls"].values():
            wall["thickness_m"] = 0.012
        raw["enclosure"]["walls"]["top"] |= {"material_id": "pvc-foam"}

    assert _describe(plan_from(demo_raw()), _edited(edit)) == [
        "Front wall: thickness: 4 mm to 12 mm",
        "Back wall, left wall, right wall, lid and floor: thickness: 15 mm to 12 mm",
        "Lid: material: Timber board to Expanded PVC board, white",
    ]


def test_lists_say_how_many_or_that_they_changed() -> None:
    def edit(raw: dict[str, Any]) -> None:
        raw["enclosure"]["vents"][0]["area_m2"] *= 2
        raw["mistings"] = [{"hours": [8], "litres": 0.1}]

    shown = document_changes(plan_from(demo_raw()), _edited(edit), CATALOG)
    assert [(c.what, plain_text(c.before), plain_text(c.after)) for c in shown] == [
        ("vents: changed", "", ""),
        ("misting", "none", "1"),
    ]
    assert {
        plain_text(c.before) for c in document_changes(plan_from(demo_raw()), DRAGON, CATALOG)
    }.isdisjoint({"crotaphytus-collaris", "sand-soil", "timber"})
