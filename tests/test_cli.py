"""The terminal: exit statuses, one clear line, the same figures as everywhere."""

from __future__ import annotations

import csv
import json
import math
import os
import signal
import socket
import subprocess
import sys
import urllib.request
from pathlib import Path

import pytest

from noonshade.cli import main
from noonshade.core.evaluate import evaluate
from noonshade.demo import DEMO_PLANS
from tests.builders import demo_plan, demo_raw, demo_text, flawless_raw

ROOT = Path(__file__).resolve().parents[1]
LIGHT_REFERENCES = ROOT / "tests" / "reference" / "light"


@pytest.fixture
def plan_file(tmp_path: Path) -> Path:
    path = tmp_path / "plan.json"
    path.write_text(demo_text(), encoding="utf-8")
    return path


def test_evaluate_prints_the_figures(plan_file: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["evaluate", str(plan_file)]) == 0
    text = capsys.readouterr().out
    value = evaluate(demo_plan()).places[0].surface_c
    assert f"{value:.1f} °C" in text
    assert "Predicted, not measured" in text
    assert "too high" in text


def test_evaluate_as_json_with_fixes(plan_file: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["evaluate", str(plan_file), "--format", "json", "--fixes"]) == 0
    shown = json.loads(capsys.readouterr().out)
    assert shown["checks"][0]["status"] == "high"
    assert shown["fixes"]["basking:surface_temperature"][0]["patch"]
    assert shown["fixes"]["probe-far:main"][0]["patch"]


def test_strict_fails_the_demo_and_passes_a_good_plan(
    tmp_path: Path, plan_file: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    assert main(["evaluate", str(plan_file), "--strict", "--fixes"]) == 1
    assert "Try: Set the thermostat to" in capsys.readouterr().out
    good = tmp_path / "good.json"
    good.write_text(json.dumps(flawless_raw()), encoding="utf-8")
    # Nothing fails there, but a set point of the air leaves the slab uncertain by more than its range.
    assert main(["evaluate", str(good), "--strict"]) == 1
    assert "uncertain until measured: basking spot surface" in capsys.readouterr().out
    assert main(["evaluate", str(good), "--strict", "--quick"]) == 0
    sure = flawless_raw()
    sure["thermostats"][0] |= {"day_set_point_c": 47.0, "probe_m": {"x_m": 0.33, "y_m": 0.3, "z_m": 0.203}}
    sure["room"]["day_temperature_c"] = 22.5
    good.write_text(json.dumps(sure), encoding="utf-8")
    assert main(["evaluate", str(good), "--strict"]) == 0
    assert "all 13 checks pass (day and night" in capsys.readouterr().out


@pytest.mark.parametrize(
    ("where", "columns"),
    [
        (
            ["--section", "0.3"],
            "x_m,z_m,y_m,uvi,irradiance_w_m2,illuminance_lx,ppfd_umol_m2_s,air_c,relative_humidity,ground_c",
        ),
        (
            ["--above", "0.25"],
            "x_m,y_m,z_m,uvi,irradiance_w_m2,illuminance_lx,ppfd_umol_m2_s,air_c,relative_humidity,surface_c",
        ),
        (["--surface", "basking-slab"], "x_m,y_m,z_m,uvi,irradiance_w_m2,illuminance_lx,temperature_c"),
    ],
)
def test_field_is_csv(
    plan_file: Path, capsys: pytest.CaptureFixture[str], where: list[str], columns: str
) -> None:
    assert main(["field", str(plan_file), *where, "--columns", "20"]) == 0
    head, *rows = capsys.readouterr().out.splitlines()
    assert head == columns
    values = [[float(v or "nan") for v in row.split(",")] for row in rows]
    assert len(values) >= 20
    assert max(row[3] for row in values if not math.isnan(row[3])) > 4
    assert {row[2] for row in values} == {float(where[1]) if where[0] != "--surface" else 0.2}


@pytest.mark.parametrize("percent", ["05", "10", "30", "60"])
def test_light_at_points_of_an_empty_enclosure_agrees_with_path_tracing(
    percent: str, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    scene = json.loads((LIGHT_REFERENCES / f"empty-long-{percent}.scene.json").read_text())
    table = json.loads((LIGHT_REFERENCES / f"empty-long-{percent}.table.json").read_text())
    points = tmp_path / "points.json"
    points.write_text(json.dumps(scene["points"]))
    command = ["probe", str(LIGHT_REFERENCES / "empty-long.plan.json"), "--points", str(points)]
    assert main([*command, "--format", "json", "--reflectance", f"0.{percent}"]) == 0
    rows = json.loads(capsys.readouterr().out)
    assert [row["position_m"] for row in rows] == scene["points"]
    # The panel of 80 W sends 0.55 of them down; the table is for 1 W.
    for kind in ("level", "facing"):
        off = [
            abs(r[f"irradiance_{kind}"] / (44.0 * w) - 1) for r, w in zip(rows, table[kind], strict=True)
        ]
        assert sorted(off)[len(off) // 2] < 0.01
        assert max(off) < 0.15
    assert all(row["uvi_level"] == row["illuminance_level"] == row["ppfd_level"] == 0.0 for row in rows)


def test_light_at_points_is_a_table_too_and_dark_in_the_ground(
    plan_file: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    points = tmp_path / "points.json"
    points.write_text("[[0.3, 0.3, 0.3], [0.3, 0.3, 0.01]]")
    assert main(["probe", str(plan_file), "--points", str(points)]) == 0
    head, lit, buried = capsys.readouterr().out.splitlines()
    assert "UVI level" in head
    assert float(lit.split()[3]) > 1.0
    assert {float(v) for v in buried.split()[3:]} == {0.0}


@pytest.mark.parametrize(
    ("text", "more", "says"),
    [
        ("[[0.3, 0.3]]", [], "/0"),
        ("{}", [], "list"),
        ("[]", [], "at least 1"),
        ("[[0.3, 0.3, 9]]", [], "outside the enclosure"),
        ("[[0.3, 0.3, NaN]]", [], ""),
        ("[[0.3, 0.3, 0.3]]", ["--reflectance", "2"], "must be 0 to 0.95"),
    ],
)
def test_a_bad_list_of_points_is_told(
    plan_file: Path,
    tmp_path: Path,
    capsys: pytest.CaptureFixture[str],
    text: str,
    more: list[str],
    says: str,
) -> None:
    points = tmp_path / "points.json"
    points.write_text(text)
    assert main(["probe", str(plan_file), "--points", str(points), *more]) == 2
    assert says in capsys.readouterr().err


def test_reflectance_goes_with_points(plan_file: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["probe", str(plan_file), "--at", "0.3,0.3,0.3", "--reflectance", "0.3"]) == 2
    assert "--points" in capsys.readouterr().err
    assert main(["probe", str(plan_file), "--points", str(plan_file.parent / "none.json")]) == 2
    assert "none.json" in capsys.readouterr().err


def test_field_of_nothing_is_named(plan_file: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["field", str(plan_file), "--surface", "moon"]) == 2
    assert "no surface 'moon'; known: substrate, basking-slab" in capsys.readouterr().err
    assert main(["field", str(plan_file), "--above", "3"]) == 2
    assert "3 m lies outside the enclosure" in capsys.readouterr().err


def test_probe_is_repeatable(plan_file: Path, capsys: pytest.CaptureFixture[str]) -> None:
    points = ["--at", "0.28,0.3,0.23", "--at", "1,0.3,0.3"]
    assert main(["probe", str(plan_file), *points, "--format", "json"]) == 0
    first, second = json.loads(capsys.readouterr().out)
    assert first["uvi_facing"] > second["uvi_facing"] > 0
    assert set(first) == {
        "position_m",
        "uvi_facing",
        "uvi_level",
        "irradiance_w_m2",
        "illuminance_lx",
        "ppfd_umol_m2_s",
        "exposure_class",
        "air_c",
        "probe_c",
        "probe_in_beam_c",
        "operative_c",
        "surface_c",
        "relative_humidity",
        "depth_m",
    }
    assert main(["probe", str(plan_file), *points, "--at", "0.3,0.3,0.03"]) == 0
    said = capsys.readouterr().out
    assert "in the ground, 5 cm deep" in said
    assert "illuminance" in said
    assert "probe reading" in said


@pytest.mark.parametrize(
    ("arguments", "words"),
    [
        (["evaluate", "missing.json"], "missing.json: No such file"),
        (["evaluate", "."], "Is a directory"),
        (["probe", "PLAN", "--at", "1,2"], "three numbers in metres"),
        (["probe", "PLAN", "--at", "a,b,c"], "three numbers in metres"),
        (["probe", "PLAN", "--at", "nan,0,0"], "must be finite"),
        (["probe", "PLAN", "--at", "5,0.3,0.3"], "outside the enclosure"),
        (["catalog", "lamps", "sun"], "no 'sun' among the lamps"),
        (["backup", "b.db", "--data", "nowhere"], "no data file at nowhere"),
        (["serve", "--port", "65536"], "must be 0 (any free port) to 65535"),
        (["serve", "--host", "0.0.0.0"], "set a passphrase"),
        (["serve", "--passphrase-file", "none"], "cannot be read"),
    ],
)
def test_bad_input_is_one_line_and_status_2(
    arguments: list[str],
    words: str,
    plan_file: Path,
    capsys: pytest.CaptureFixture[str],
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    monkeypatch.chdir(plan_file.parent)
    monkeypatch.delenv("NOONSHADE_PASSPHRASE", raising=False)
    given = [str(plan_file) if a == "PLAN" else a for a in arguments]
    assert main(given) == 2
    error = capsys.readouterr().err
    assert words in error
    assert error.count("\n") == 1


def test_bad_plan_file_is_named(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    raw = demo_raw()
    raw["fixtures"][0]["power_w"] = -1
    path = tmp_path / "bad.json"
    path.write_text(json.dumps(raw), encoding="utf-8")
    assert main(["evaluate", str(path)]) == 2
    assert "/fixtures/0/power_w: -1 given; must be above 0" in capsys.readouterr().err
    path.write_bytes(b"x" * 1_000_001)
    assert main(["evaluate", str(path)]) == 2
    assert "larger than 1000 kB" in capsys.readouterr().err


def test_unknown_command_is_status_2(capsys: pytest.CaptureFixture[str]) -> None:
    with pytest.raises(SystemExit) as stopped:
        main(["fly"])
    assert stopped.value.code == 2
    assert "invalid choice" in capsys.readouterr().err


@pytest.mark.parametrize("command", ["serve", "evaluate", "probe", "catalog", "backup", "restore"])
def test_every_command_has_help(command: str, capsys: pytest.CaptureFixture[str]) -> None:
    with pytest.raises(SystemExit) as stopped:
        main([command, "--help"])
    assert stopped.value.code == 0
    assert "usage" in capsys.readouterr().out


def test_catalog_lists_and_shows(capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["catalog"]) == 0
    listed = capsys.readouterr().out
    assert "t5-strong-85" in listed
    assert "Crotaphytus collaris" in listed
    assert main(["catalog", "lamps", "t5-strong-85"]) == 0
    assert json.loads(capsys.readouterr().out)["power_w"] == 39.0


def test_backup_and_restore(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    from noonshade.store.database import Database
    from noonshade.store.plans import PlanStore

    data = tmp_path / "data"
    store = PlanStore(Database.open(data / "noonshade.db"))
    plan = store.database.write(store.create, "Enclosure", "{}")
    copy = tmp_path / "copy.db"
    assert main(["backup", str(copy), "--data", str(data)]) == 0
    store.database.write(store.save, plan.id, 1, "Other", "{}2", "Edit")
    assert main(["restore", str(copy), "--data", str(data)]) == 0
    assert store.get(plan.id).name == "Enclosure"
    assert "before is in" in capsys.readouterr().out
    assert main(["backup", str(copy), "--data", str(data)]) == 2


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port: int = probe.getsockname()[1]
        return port


def test_serve_starts_seeds_and_says_when_the_port_is_taken(tmp_path: Path) -> None:
    port = free_port()
    command = [sys.executable, "-m", "noonshade", "serve", "--demo", "--port", str(port)]
    command += ["--data", str(tmp_path / "demo")]
    environment = {**os.environ, "PYTHONUNBUFFERED": "1"}
    with subprocess.Popen(command, stdout=subprocess.PIPE, text=True, env=environment, cwd=ROOT) as server:
        try:
            assert server.stdout is not None
            assert f"http://127.0.0.1:{port}/" in server.stdout.readline()
            # Said to be ready, it refuses nobody: the first connection is answered.
            with urllib.request.urlopen(f"http://127.0.0.1:{port}/api/plans", timeout=20) as answer:
                plans = json.load(answer)["plans"]
            assert sorted(p["id"] for p in plans) == sorted(DEMO_PLANS)
            taken = subprocess.run(command, capture_output=True, text=True, cwd=ROOT, timeout=60)
            assert taken.returncode == 2
            assert f"port {port} is in use" in taken.stderr
            assert taken.stderr.count("\n") == 1
        finally:
            server.send_signal(signal.SIGINT)
            server.wait(timeout=20)


def test_the_day_as_csv_as_text_and_its_what_if_tests(
    plan_file: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    assert main(["day", str(plan_file)]) == 0
    head, *rows = capsys.readouterr().out.splitlines()
    assert head.startswith("hour,room_c,basking_air_c,basking_probe_c,basking_surface_c,basking_uvi")
    assert len(rows) == 1440
    assert main(["day", str(plan_file), "--format", "text", "--season", "winter"]) == 0
    text = capsys.readouterr().out
    assert "predicted, not measured" in text
    assert "Basking lamp     at work" in text
    assert main(["day", str(plan_file), "--what-if"]) == 0
    assert "Power cut for a day, at dusk" in capsys.readouterr().out


def test_a_season_the_plan_does_not_describe_is_bad_input(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    raw = demo_raw()
    del raw["room"]["summer"]
    path = tmp_path / "plan.json"
    path.write_text(json.dumps(raw), encoding="utf-8")
    assert main(["day", str(path), "--season", "summer"]) == 2
    assert "says nothing of the room in summer" in capsys.readouterr().err


def test_a_round_is_proposed_and_readings_are_fitted(
    plan_file: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    assert main(["round", str(plan_file), "--most", "3"]) == 0
    said = capsys.readouterr().out
    assert "3. " in said
    assert "expected" in said
    assert main(["round", str(plan_file), "--most", "0"]) == 2
    assert "--most 0: must be 1 to 20" in capsys.readouterr().err
    rows = tmp_path / "readings.csv"
    rows.write_text(
        "taken_at,id,kind,value,unit,x_m,y_m,z_m,excluded\n"
        "2026-03-14T10:00:00+01:00,a,room_air,23.0,°C,,,,no\n"
        "2026-03-13T10:00:00+01:00,b,uvi_facing,2.9,UVI,0.28,0.3,0.23,no\n"
        "2026-03-15T10:00:00+01:00,c,air,99,°C,1.05,0.3,0.18,yes\n"
    )
    out = tmp_path / "fitted.json"
    assert main(["fit", str(plan_file), str(rows), "-o", str(out)]) == 0
    said = capsys.readouterr().out
    assert "what 2 readings show" in said
    assert "UV tube gives" in said
    assert "warmer than in the plan" in said
    document = json.loads(out.read_text())
    assert document["measured"]["applied"]
    assert document["measured"]["on"] == "2026-03-14"
    assert main(["evaluate", str(out)]) == 0
    capsys.readouterr()
    for text, words in (
        ("kind\nair\n", "columns value are missing"),
        ("kind,value\ncolour,3\n", "line 2, kind: 'colour'"),
        ("kind,value\nroom_air,warm\n", "line 2, value: 'warm' is not a number"),
        ("kind,value,unit\nroom_air,70,°F\n", "it is °C"),
        ("kind,value,taken_at\nroom_air,20,May\n", "line 2, taken_at: 'May'"),
        ("kind,value\n", "no reading to fit"),
        ("kind,value\nair,20\n", "needs a place"),
    ):
        rows.write_text(text)
        assert main(["fit", str(plan_file), str(rows)]) == 2
        assert words in capsys.readouterr().err
    assert main(["fit", str(plan_file), str(tmp_path / "none.csv")]) == 2


def test_report_and_drawing_are_written(plan_file: Path, tmp_path: Path) -> None:
    for command, name, start in (
        ("report", "report.pdf", b"%PDF"),
        ("report", "report.html", b"<!doctype html>"),
        ("draw", "enclosure.svg", b"<svg"),
        ("draw", "enclosure.png", b"\x89PNG"),
    ):
        target = tmp_path / name
        assert main([command, str(plan_file), "-o", str(target), "--units", "imperial"]) == 0
        assert target.read_bytes().startswith(start)


def test_a_report_of_an_unknown_kind_is_refused(
    plan_file: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    assert main(["report", str(plan_file), "-o", str(tmp_path / "x.docx")]) == 2
    assert "must end in .pdf or .html" in capsys.readouterr().err
    assert main(["draw", str(plan_file), "-o", str(tmp_path / "no" / "x.svg")]) == 2
    assert "No such file" in capsys.readouterr().err
    assert main(["draw", str(plan_file), "-o", str(tmp_path / "x.png"), "--width", "0"]) == 2
    assert "px wide" in capsys.readouterr().err


def test_parts_lists_what_to_buy_and_do(plan_file: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["parts", str(plan_file)]) == 0
    text = capsys.readouterr().out
    assert "114 W connected" in text
    assert "Sand and soil mix" in text
    assert text.index("What to do") < text.index("Cautions")


def test_a_larger_bead_sees_more(plan_file: Path, capsys: pytest.CaptureFixture[str]) -> None:
    def read(*more: str) -> float:
        assert main(["probe", str(plan_file), "--at", "0.28,0.3,0.25", "--format", "json", *more]) == 0
        shown: list[dict[str, float]] = json.loads(capsys.readouterr().out)
        return shown[0]["probe_c"] - shown[0]["air_c"]

    # Right above the hot slab, radiation lifts a probe above the air.
    assert read("--bead", "12") > read() > read("--bead", "2") > 0
    assert main(["probe", str(plan_file), "--at", "0.28,0.3,0.25", "--bead", "0"]) == 2
    assert "0.5 to 50" in capsys.readouterr().err


def test_a_section_as_csv_has_the_ground_too(plan_file: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["field", str(plan_file), "--section", "0.3"]) == 0
    rows = list(csv.DictReader(capsys.readouterr().out.splitlines()))
    ground = [row for row in rows if row["ground_c"]]
    assert {float(row["z_m"]) for row in ground} == {0.0, 0.056, 0.08}
    assert all(not row["air_c"] for row in ground)
    assert all(row["air_c"] and not row["ground_c"] for row in rows[len(ground) :])
