"""Designs from the terminal: the best as a plan, reasons where there is none, clear lines for bad input."""

from __future__ import annotations

import json
from pathlib import Path

import pytest

from noonshade.cli import main
from noonshade.core.evaluate import evaluate
from noonshade.formats.plan_document import parse_plan
from noonshade.formats.plan_from_document import resolve
from noonshade.services import workers
from tests.builders import CATALOG

TARANTULA = "brachypelma-hamorii"


@pytest.fixture(autouse=True)
def one_process(monkeypatch: pytest.MonkeyPatch) -> None:
    """Starting others takes longer than these designs do."""
    monkeypatch.setattr(workers, "MOST_WORKERS", 1)


def test_a_design_is_written_as_a_plan_and_shown_as_json(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    made = tmp_path / "made.json"
    asked = ["design", TARANTULA, "--kind", "glass", "--enclosure", "40,30,30", "--room", "22,18,50"]
    assert main([*asked, "-o", str(made), "--format", "json"]) == 0
    shown = json.loads(capsys.readouterr().out)
    assert shown["candidates_screened"] >= 1000
    assert shown["seconds"] > 0
    assert shown["conflicts"] == []
    best = shown["set_ups"][0]
    assert {"plan", "checks", "watts", "kwh_month", "cost_month", "changes_by_month"} <= set(best)
    plan = resolve(parse_plan(made.read_text(encoding="utf-8")), CATALOG)
    assert (plan.enclosure.length_m, plan.enclosure.depth_m, plan.enclosure.height_m) == (0.4, 0.3, 0.3)
    assert (plan.room.day_temperature_c, plan.room.relative_humidity) == (22.0, 0.5)
    values = {c.id: c.value for c in evaluate(plan).checks}
    assert {c["id"]: pytest.approx(c["value"]) for c in best["checks"]} == values
    assert all(c["status"] == "ok" for c in best["checks"] if c["required"])


def test_where_nothing_fits_the_reasons_are_said_with_another_status(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    months = tmp_path / "months.json"
    months.write_text(json.dumps([[20, 16, 50]] * 11 + [[29, 24, 50]]), encoding="utf-8")
    assert main(["design", "salamandra-salamandra", "--months", str(months)]) == 3
    text = capsys.readouterr().out
    assert "Your room is at 29.0 °C by day in December" in text
    assert "no enclosure without cooling can do it" in text


@pytest.mark.parametrize(
    ("arguments", "word"),
    [
        (["nobody"], "no such species"),
        ([TARANTULA, "--stage", "larva"], "has adult"),
        ([TARANTULA, "--count", "0"], "1 to 50"),
        ([TARANTULA, "--enclosure", "10,30,30"], "length must be 20 to 500 cm"),
        ([TARANTULA, "--enclosure", "wide"], "3 numbers"),
        ([TARANTULA, "--room", "21,17,450"], "humidity"),
        ([TARANTULA, "--room", "90,17,45"], "must be -10 to 50"),
        ([TARANTULA, "--months", "missing.json"], "No such file"),
        ([TARANTULA, "--own", "missing.json"], "No such file"),
        (["python-regius", "--enclosure", "20,20,20"], "does not fit"),
    ],
)
def test_bad_input_gets_one_clear_line(
    arguments: list[str], word: str, capsys: pytest.CaptureFixture[str]
) -> None:
    assert main(["design", *arguments]) == 2
    said = capsys.readouterr().err.strip()
    assert word in said
    assert "\n" not in said


@pytest.mark.parametrize(
    ("option", "content", "word"),
    [
        ("--months", "[[1, 2, 3]]", "twelve"),
        ("--months", "{", "not valid JSON"),
        ("--months", json.dumps([[20, 16, "wet"]] * 12), "twelve"),
        ("--own", "[]", "must hold lamps"),
        ("--own", '{"no-such-lamp": 1}', "no lamp 'no-such-lamp'"),
        ("--own", '{"halogen-flood": -1}', "whole number"),
    ],
)
def test_bad_files_are_named(
    option: str, content: str, word: str, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    file = tmp_path / "file.json"
    file.write_text(content, encoding="utf-8")
    assert main(["design", TARANTULA, option, str(file)]) == 2
    said = capsys.readouterr().err
    assert word in said
    assert str(file) in said
