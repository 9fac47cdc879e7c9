"""Commands about one plan and about the catalogue."""

from __future__ import annotations

import argparse
import json
import sys
from collections.abc import Mapping
from dataclasses import asdict
from typing import Any

from noonshade.cli.inputs import (
    FAILS_CHECKS,
    OK,
    BadInput,
    ending,
    point_of,
    read_plan,
    read_species,
    write,
)


def show_evaluation(options: argparse.Namespace) -> int:
    """Figures and checks of a plan."""
    from noonshade.catalog import load_catalog
    from noonshade.core.evaluate import evaluate
    from noonshade.core.fixes.suggest import suggest_fixes
    from noonshade.core.forecast import forecast_months
    from noonshade.core.uncertainty.chances import with_chances
    from noonshade.core.uncertainty.intervals import compute_intervals
    from noonshade.formats.plan_document import locked_in
    from noonshade.formats.year_document import set_by_month

    document, plan = read_plan(options.plan, options.species)
    result = evaluate(plan)
    spread = {} if options.quick else {i.check_id: i for i in compute_intervals(result)}
    result = with_chances(result, spread.values())
    months = () if options.quick else forecast_months(plan, set_by_month(document.year))
    fixes = {}
    if options.fixes:
        catalog = load_catalog()
        locked = locked_in(document)
        lamps, meshes = tuple(catalog.lamps.values()), tuple(catalog.meshes.values())
        fixes = {
            v.id: suggest_fixes(result, v, lamps, meshes, locked=locked) for v in result.checks if v.fails
        }
        fixes |= {
            f.id: suggest_fixes(result, f, lamps, meshes, locked=locked) for f in result.findings if f.fails
        }
    if options.format == "json":
        from noonshade.formats.results.evaluation import evaluation_model, fix_model

        shown = evaluation_model(result, months=months).model_dump(
            mode="json", exclude={"section", "plan_view"}
        )
        if options.fixes:
            shown["fixes"] = {
                key: [fix_model(fix, document).model_dump(mode="json") for fix in found]
                for key, found in fixes.items()
            }
        if options.intervals:
            shown["intervals"] = {key: asdict(one) for key, one in spread.items()}
        print(json.dumps(shown, indent=2, ensure_ascii=False))
    else:
        from noonshade.cli.text import evaluation_text

        evaluation_text(result, fixes, sys.stdout, spread if options.intervals else {}, months)
    return FAILS_CHECKS if options.strict and not result.fits else OK


def show_reference(options: argparse.Namespace) -> int:
    """What the model makes of a case of prescribed heat."""
    from noonshade.core.heat_reference import solve_reference
    from noonshade.formats.reference_case import read_reference_case, reference_result

    try:
        case = read_reference_case(options.case)
    except OSError as error:
        raise BadInput(f"{options.case}: {error.strerror}") from error
    _, plan = read_plan(options.case.parent / case.plan)
    enclosure = plan.enclosure
    case.check_against(enclosure.length_m, enclosure.depth_m, enclosure.height_m)
    found = solve_reference(plan, case.heat(), tuple(case.layers_m))
    print(json.dumps(reference_result(case, found), indent=2))
    return OK


def show_probe(options: argparse.Namespace) -> int:
    """What is at points of an enclosure."""
    from noonshade.cli.text import reading_text
    from noonshade.core.evaluate import evaluate
    from noonshade.core.probe import probe

    if not 0.5 <= options.bead <= 50.0:
        raise BadInput(f"--bead {options.bead:g}: must be 0.5 to 50 mm")
    if options.points is not None:
        return _show_light(options)
    if options.reflectance is not None:
        raise BadInput("--reflectance goes with --points: it is for comparing light alone")
    points = [point_of(text) for text in options.at]
    _, plan = read_plan(options.plan, options.species)
    result = evaluate(plan)
    readings = [probe(result, point, options.bead / 1000.0) for point in points]
    if options.format == "json":
        print(json.dumps([asdict(r) for r in readings], indent=2))
    else:
        for reading in readings:
            reading_text(reading, sys.stdout)
    return OK


def _show_light(options: argparse.Namespace) -> int:
    """Light alone at the points of a file."""
    import numpy as np

    from noonshade.cli.text import light_text
    from noonshade.core.light.field import Scene
    from noonshade.formats.light_points import light_rows, read_points

    share = options.reflectance
    if share is not None and not 0.0 <= share <= 0.95:
        raise BadInput(f"--reflectance {share:g}: must be 0 to 0.95")
    _, plan = read_plan(options.plan, options.species)
    try:
        points = read_points(options.points, plan.enclosure)
    except OSError as error:
        raise BadInput(f"{options.points}: {error.strerror}") from error
    lit = tuple(f for f in plan.fixtures if f.lit_at("day"))
    light = Scene(plan, lit, inner_reflectance=share).at(np.array(points))
    rows = light_rows(points, light, plan.substrate.depth_m)
    if options.format == "json":
        print(json.dumps(rows, indent=2))
    else:
        light_text(rows, sys.stdout)
    return OK


def show_round(options: argparse.Namespace) -> int:
    """The readings worth taking."""
    from noonshade.cli.text import round_text
    from noonshade.core.evaluate import evaluate
    from noonshade.core.readings import propose_round

    if not 1 <= options.most <= 20:
        raise BadInput(f"--most {options.most}: must be 1 to 20")
    _, plan = read_plan(options.plan, options.species)
    tasks = propose_round(plan, options.most, evaluation=evaluate(plan))
    round_text(plan, tasks, options.units, sys.stdout)
    return OK


def show_fit(options: argparse.Namespace) -> int:
    """A plan fitted to readings."""
    from noonshade.catalog import load_catalog
    from noonshade.cli.text import fit_text
    from noonshade.core.readings import FitError, fit_readings, fitted_values
    from noonshade.core.readings.evidence import measured_checks
    from noonshade.formats.plan_document import plan_json
    from noonshade.formats.plan_from_document import measured_document, resolve
    from noonshade.formats.readings_csv import read_readings_csv
    from noonshade.formats.text_file import FileFormatError, decoded

    document, _ = read_plan(options.plan, options.species)
    # From the catalogue's values, whatever was fitted before.
    plan = resolve(document.model_copy(update={"measured": None}), load_catalog())
    try:
        file = read_readings_csv(decoded(options.readings.read_bytes()))
        found = fit_readings(plan, file.readings)
    except OSError as error:
        raise BadInput(f"{options.readings}: {error.strerror}") from error
    except (FileFormatError, FitError) as error:
        raise BadInput(f"{options.readings}: {error}") from error
    fit_text(plan, found, options.units, sys.stdout)
    if options.output is not None:
        from datetime import datetime

        day = file.last_day or datetime.now().astimezone().date().isoformat()
        fitted = measured_document(
            fitted_values(found, plan, day, measured_checks(found.evaluation, file.readings))
        )
        text = plan_json(document.model_copy(update={"measured": fitted}))
        write(options.output, text.encode())
    return OK


def show_field(options: argparse.Namespace) -> int:
    """A field as a table."""
    from noonshade.core.evaluate import evaluate
    from noonshade.core.fields import plan_view, section, surface_field
    from noonshade.formats.results_csv import field_csv

    if not 8 <= options.columns <= 1000:
        raise BadInput(f"--columns {options.columns}: must be 8 to 1000")
    _, plan = read_plan(options.plan, options.species)
    result = evaluate(plan)
    n = options.columns
    if options.surface is not None:
        field_csv(surface_field(result, options.surface, plan.enclosure.length_m / n), sys.stdout)
    elif options.above is not None:
        field_csv(plan_view(result, options.above, n, max(8, n // 2)), sys.stdout)
    else:
        field_csv(section(result, options.section, n, max(8, n // 2)), sys.stdout)
    return OK


def show_day(options: argparse.Namespace) -> int:
    """The simulated day as a table."""
    from noonshade.cli.text import day_text, failure_text
    from noonshade.core.day import simulate_day
    from noonshade.core.evaluate import evaluate
    from noonshade.core.failure_scenarios import failure_scenarios_of, run_scenario
    from noonshade.formats.results_csv import day_csv

    _, plan = read_plan(options.plan, options.species)
    if options.season != "now" and getattr(plan.room, options.season) is None:
        raise BadInput(f"--season {options.season}: the plan says nothing of the room in {options.season}")
    evaluation = evaluate(plan)
    day = simulate_day(evaluation, options.season)
    if options.what_if:
        print(f"{plan.name}: what may go wrong (predicted, not measured)")
        for failure_scenario in failure_scenarios_of(day.plan):
            failure_text(run_scenario(failure_scenario, day, evaluation), sys.stdout)
    elif options.format == "text":
        day_text(day, sys.stdout)
    else:
        day_csv(day, sys.stdout)
    return OK


def show_scenarios(options: argparse.Namespace) -> int:
    """The needs in every situation."""
    from noonshade.cli.text import scenarios_text
    from noonshade.core.evaluate import evaluate
    from noonshade.core.scenarios import evaluate_scenarios

    _, plan = read_plan(options.plan, options.species)
    scenarios_text(evaluate_scenarios(evaluate(plan)), sys.stdout)
    return OK


def write_report(options: argparse.Namespace) -> int:
    """The report, as a page or PDF."""
    from datetime import datetime

    from noonshade.core.day import simulate_day
    from noonshade.core.evaluate import evaluate
    from noonshade.formats.printed import Edition, PrintError, pdf_of, report_html

    kind = ending(options.output, (".pdf", ".html"))
    _, plan = read_plan(options.plan, options.species)
    evaluation = evaluate(plan)
    html = report_html(evaluation, simulate_day(evaluation), Edition(datetime.now(), units=options.units))
    try:
        write(options.output, html.encode() if kind == ".html" else pdf_of(html))
    except PrintError as error:
        raise BadInput(str(error)) from error
    return OK


def write_drawing(options: argparse.Namespace) -> int:
    """The drawing, as SVG or PNG."""
    from noonshade.core.evaluate import evaluate
    from noonshade.core.fields import plan_view, section
    from noonshade.formats.drawing import above_svg, front_svg
    from noonshade.formats.printed import PrintError, png_of

    kind = ending(options.output, (".svg", ".png"))
    _, plan = read_plan(options.plan, options.species)
    result = evaluate(plan)
    if options.view == "above":
        svg = above_svg(result, plan_view(result, options.at), options.field, options.units)
    else:
        svg = front_svg(result, section(result, options.at), options.field, options.units)
    try:
        write(options.output, svg.encode() if kind == ".svg" else png_of(svg, options.width))
    except (PrintError, ValueError) as error:
        raise BadInput(str(error)) from error
    return OK


def show_parts(options: argparse.Namespace) -> int:
    """What to buy for a plan."""
    from noonshade.cli.text import building_text

    _, plan = read_plan(options.plan, options.species)
    building_text(plan, options.units, sys.stdout)
    return OK


def _named(text: str, species: Mapping[str, Any]) -> str:
    """The id of a species by any of its names; BadInput where a name is shared."""
    from noonshade.core.needs.find import find_species

    if text in species:
        return text
    answer = find_species(species.values(), text)
    if len(answer.found) == 1:
        return answer.found[0].species.id
    if answer.found:
        meant = "; ".join(f"{hit.species.scientific_name} ({hit.species.id})" for hit in answer.found)
        raise BadInput(f"{text!r} is a name of several species. Which is meant: {meant}?")
    return text


def show_catalog(options: argparse.Namespace) -> int:
    """The catalogue, listed or one entry."""
    from noonshade.catalog import load_catalog

    catalog = load_catalog()
    tables: dict[str, Mapping[str, Any]] = {
        "lamps": catalog.lamps,
        "meshes": catalog.meshes,
        "materials": catalog.materials,
        "species": {**catalog.species, **{s.id: s for s in map(read_species, options.species)}},
    }
    kinds = [options.kind] if options.kind else list(tables)
    if options.id is not None:
        table = tables[options.kind]
        key = _named(options.id, table) if options.kind == "species" else options.id
        if key not in table:
            raise BadInput(f"no {options.id!r} among the {options.kind}: {', '.join(sorted(table))}")
        print(json.dumps(asdict(table[key]), indent=2, ensure_ascii=False))
        return OK
    for kind in kinds:
        print(kind)
        for key, entry in tables[kind].items():
            label = getattr(entry, "label", None) or getattr(entry, "scientific_name", "")
            print(f"  {key:24} {label}")
    return OK
