"""Air and surfaces against tables computed with OpenFOAM: limit case 13."""

from __future__ import annotations

import json
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from noonshade.cli import main
from noonshade.cli.inputs import read_plan
from noonshade.core.heat.geometry import Resolution
from noonshade.core.heat_reference import ReferenceFigures, solve_reference
from noonshade.core.uncertainty.structural_error import of_temperature
from noonshade.formats.reference_case import ReferenceCase, read_reference_case

FOLDER = Path(__file__).resolve().parents[1] / "reference" / "heat"
CASES = sorted(p.name.removesuffix(".case.json") for p in FOLDER.glob("*.case.json"))


def solved(name: str, resolution: Resolution | None = None) -> tuple[ReferenceCase, ReferenceFigures]:
    case = read_reference_case(FOLDER / f"{name}.case.json")
    _, plan = read_plan(FOLDER / case.plan)
    return case, solve_reference(plan, case.heat(), tuple(case.layers_m), resolution)


def table(name: str) -> dict[str, Any]:
    found: dict[str, Any] = json.loads((FOLDER / f"{name}.table.json").read_text())
    return found


def test_every_case_has_its_table() -> None:
    assert len(CASES) == 8
    assert all((FOLDER / f"{name}.table.json").is_file() for name in CASES)


@pytest.mark.parametrize("name", CASES)
def test_air_and_surfaces_agree_with_fluid_dynamics(name: str) -> None:
    """Mean and every layer within 1.0 K, contrast of the ends within 0.7 K, hot patches within 3 K."""
    case, found = solved(name)
    known = table(name)
    assert found.mean_air_c == pytest.approx(known["mean_air_c"], abs=1.0)
    layers = {row["z_m"]: row["air_c"] for row in known["layers"]}
    for z, air in zip(case.layers_m, found.layers_c, strict=True):
        assert air == pytest.approx(layers[z], abs=1.0), f"{z} m"
    ends = known["ends"]
    contrast = abs(ends["left"] - ends["right"])
    assert found.warm_air_c - found.cool_air_c == pytest.approx(contrast, abs=0.7)
    surfaces = known["surfaces_c"]
    for i, patch in enumerate(found.patches):
        assert patch.mean_c == pytest.approx(surfaces[f"hot{i}"], abs=3.0)
        assert patch.peak_c >= patch.mean_c
    if found.lid_c is not None:
        assert found.lid_c == pytest.approx(surfaces["lid"], abs=1.0)
    for face in ("left", "right", "front"):
        assert found.walls_c[face] == pytest.approx(surfaces[face], abs=0.7)  # type: ignore[index]


def test_intervals_allow_for_as_much_as_the_model_is_off() -> None:
    """Deviations from all tables over the spread the model claims: their mean square is about 1."""
    air: list[float] = []
    hot: list[float] = []
    for name in CASES:
        case, found = solved(name)
        known = table(name)
        room = read_plan(FOLDER / case.plan)[1].room.day_temperature_c
        layers = {row["z_m"]: row["air_c"] for row in known["layers"]}
        for z, value in zip(case.layers_m, found.layers_c, strict=True):
            air.append((value - layers[z]) / of_temperature(layers[z], room, surface=False))
        for i, patch in enumerate(found.patches):
            there = known["surfaces_c"][f"hot{i}"]
            hot.append((patch.mean_c - there) / of_temperature(there, room, surface=True))
    assert 0.7 < float(np.sqrt(np.mean(np.square(air)))) < 1.3
    assert 0.7 < float(np.sqrt(np.mean(np.square(hot)))) < 1.3


def test_surfaces_that_see_each_other_change_the_air_little() -> None:
    """The tables have one radiant node; a real enclosure does not, and its air hardly differs."""
    case, usual = solved("closed")
    _, plan = read_plan(FOLDER / case.plan)
    local = solve_reference(plan, replace(case.heat(), one_radiant_node=False), tuple(case.layers_m))
    assert local.mean_air_c == pytest.approx(usual.mean_air_c, abs=0.3)
    assert local.layers_c == pytest.approx(usual.layers_c, abs=0.3)
    assert local.floor_c != pytest.approx(usual.floor_c, abs=0.02)


def test_a_finer_grid_gives_the_same_air() -> None:
    """Limit case 8: a grid twice as fine changes mean and ends by less than 0.3 K.

    Layers too, but beside the heater of the tall enclosure, where 6 K lie between one layer and the next.
    """
    for name in ("closed", "tall"):
        _, usual = solved(name)
        _, fine = solved(name, Resolution(air_m=0.05))
        assert fine.mean_air_c == pytest.approx(usual.mean_air_c, abs=0.3)
        assert fine.warm_air_c == pytest.approx(usual.warm_air_c, abs=0.3)
        assert fine.cool_air_c == pytest.approx(usual.cool_air_c, abs=0.3)
        assert fine.layers_c == pytest.approx(usual.layers_c, abs=0.3 if name == "closed" else 0.5)


def test_the_terminal_prints_a_case_as_json(capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["reference", "heat", str(FOLDER / "closed.case.json")]) == 0
    shown = json.loads(capsys.readouterr().out)
    _, found = solved("closed")
    assert shown["mean_air_c"] == pytest.approx(found.mean_air_c, abs=1e-3)
    assert [row["z_m"] for row in shown["layers"]] == [0.03, 0.1, 0.2, 0.3, 0.45, 0.57]
    assert set(shown) >= {"ends", "patches", "lid_c", "walls_c"}


@pytest.mark.parametrize(
    ("changed", "words"),
    [
        ({"plan": "none.json"}, "No such file"),
        ({"absorbed": [{"rect_m": [0.1, 2.0, 0.1, 0.2], "watts": 5}]}, "left < right"),
        ({"to_air": [{"at_m": [0.1, 0.1, 0.9], "watts": 5}]}, "outside the enclosure"),
        ({"layers_m": [0.7]}, "above the lid"),
        ({"watts": 5}, "not a known field"),
        ({"absorbed": [{"rect_m": [0.1, 0.2, 0.1, 0.2], "watts": -5}]}, "0"),
    ],
)
def test_a_case_that_cannot_be_is_refused_by_name(
    changed: dict[str, Any], words: str, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    raw = json.loads((FOLDER / "closed.case.json").read_text())
    raw["plan"] = str(FOLDER / raw["plan"])
    path = tmp_path / "case.json"
    path.write_text(json.dumps(raw | changed))
    assert main(["reference", "heat", str(path)]) == 2
    assert words in capsys.readouterr().err
    assert main(["reference", "heat", str(tmp_path / "missing.json")]) == 2


def test_a_case_of_a_version_1_plan_is_read(tmp_path: Path) -> None:
    plan = FOLDER.parents[1] / "fixtures" / "version-1" / "plan.json"
    path = tmp_path / "case.json"
    path.write_text(json.dumps({"plan": str(plan), "to_air": [{"at_m": [0.2, 0.2, 0.3], "watts": 10}]}))
    case = read_reference_case(path)
    _, found = read_plan(path.parent / case.plan)
    assert solve_reference(found, case.heat(), ()).mean_air_c > found.room.day_temperature_c
