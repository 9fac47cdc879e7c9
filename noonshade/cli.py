"""The same work from a terminal."""

from __future__ import annotations

import argparse
import errno
import json
import os
import socket
import sys
from collections.abc import Mapping, Sequence
from dataclasses import asdict
from pathlib import Path
from typing import TYPE_CHECKING, Any, TextIO

from noonshade import __version__
from noonshade.core.errors import ConvergenceError, PlanError

if TYPE_CHECKING:
    from noonshade.core.plan import Plan
    from noonshade.formats.plan_document import PlanDocument

OK, FAILS_CHECKS, BAD_INPUT = 0, 1, 2
DEFAULT_PORT = 8620
DATA_FILE = "noonshade.db"


class BadInput(Exception):
    """Something the user gave cannot be used; its text is the one line shown."""


def main(arguments: Sequence[str] | None = None) -> int:
    """Run a command; returns the exit status."""
    options = _parser().parse_args(arguments)
    # Imported late: help and version should not wait for the numerics.
    from noonshade.formats.document import DocumentError
    from noonshade.store.database import StoreError

    try:
        return int(options.run(options))
    except (BadInput, DocumentError, PlanError, ConvergenceError, StoreError) as error:
        print(f"noonshade {options.command}: {error}", file=sys.stderr)
        return BAD_INPUT
    except BrokenPipeError:
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        return OK


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(
        prog="noonshade",
        description="Plan the lighting and heating of animal enclosures.",
        epilog="Exit status: 0 done; 1 the plan fails its checks (evaluate --strict); 2 bad input. "
        "Figures are predictions until you have measured them.",
    )
    parser.add_argument("--version", action="version", version=f"noonshade {__version__}")
    commands = parser.add_subparsers(dest="command", required=True, metavar="COMMAND")

    serve = commands.add_parser("serve", help="run the web application")
    serve.add_argument("--demo", action="store_true", help="with the demo room, in a folder of its own")
    serve.add_argument("--host", default="127.0.0.1", help="address to listen on (default %(default)s)")
    serve.add_argument("--port", type=int, default=DEFAULT_PORT, help="default %(default)s")
    serve.add_argument("--data", type=Path, help="data folder (default ./data, or ./demo-data)")
    serve.add_argument(
        "--passphrase-file",
        type=Path,
        help="file with the passphrase asked for when listening beyond this machine "
        "(or the environment variable NOONSHADE_PASSPHRASE)",
    )
    serve.set_defaults(run=_serve)

    evaluate = commands.add_parser("evaluate", help="figures and verdicts of a plan file")
    evaluate.add_argument("plan", type=Path, metavar="PLAN.json")
    evaluate.add_argument("--format", choices=("text", "json"), default="text")
    evaluate.add_argument("--strict", action="store_true", help="exit 1 if any check fails")
    evaluate.add_argument("--mends", action="store_true", help="compute changes for each failure")
    evaluate.add_argument("--intervals", action="store_true", help="how far each figure may be off")
    evaluate.set_defaults(run=_evaluate)

    probe = commands.add_parser("probe", help="every quantity at points of a plan")
    probe.add_argument("plan", type=Path, metavar="PLAN.json")
    probe.add_argument(
        "--at",
        action="append",
        required=True,
        metavar="X,Y,Z",
        help="metres from the inner lower front left corner; may be repeated",
    )
    probe.add_argument("--format", choices=("text", "json"), default="text")
    probe.set_defaults(run=_probe)

    field = commands.add_parser("field", help="light and temperatures over a cut or surface, as CSV")
    field.add_argument("plan", type=Path, metavar="PLAN.json")
    where = field.add_mutually_exclusive_group()
    where.add_argument("--section", type=float, metavar="Y", help="seen from the front, at a depth in m")
    where.add_argument("--above", type=float, metavar="Z", help="seen from above, at a height in m")
    where.add_argument("--surface", metavar="ID", help="over a slab, a hide's roof, or 'substrate'")
    field.add_argument("--columns", type=int, default=60, metavar="N", help="samples along x (default 60)")
    field.set_defaults(run=_field)

    day = commands.add_parser("day", help="the simulated day, as CSV")
    day.add_argument("plan", type=Path, metavar="PLAN.json")
    day.add_argument(
        "--season",
        choices=("now", "winter", "summer"),
        default="now",
        help="which of the room's climates (default %(default)s)",
    )
    day.add_argument("--format", choices=("csv", "text"), default="csv", help="every minute, or a summary")
    day.add_argument("--drills", action="store_true", help="play what may go wrong, as text")
    day.set_defaults(run=_day)

    overtime = commands.add_parser("overtime", help="what holds over the day, the seasons and the years")
    overtime.add_argument("plan", type=Path, metavar="PLAN.json")
    overtime.set_defaults(run=_overtime)

    report = commands.add_parser(
        "report", help="a plan on paper: drawing, figures, verdicts, parts, cautions"
    )
    report.add_argument("plan", type=Path, metavar="PLAN.json")
    report.add_argument("-o", "--output", type=Path, required=True, metavar="FILE", help=".pdf or .html")
    _units_option(report)
    report.set_defaults(run=_report)

    draw = commands.add_parser("draw", help="the box with a field over it, as a picture")
    draw.add_argument("plan", type=Path, metavar="PLAN.json")
    draw.add_argument("-o", "--output", type=Path, required=True, metavar="FILE", help=".svg or .png")
    draw.add_argument("--field", choices=("uvi", "air", "irradiance", "light", "humidity"), default="uvi")
    draw.add_argument("--view", choices=("front", "above"), default="front")
    draw.add_argument("--at", type=float, metavar="M", help="depth of the cut, or height from above, in m")
    draw.add_argument("--width", type=int, default=1600, metavar="PX", help="of a .png (default 1600)")
    _units_option(draw)
    draw.set_defaults(run=_draw)

    parts = commands.add_parser("parts", help="what to buy and what to do for a plan")
    parts.add_argument("plan", type=Path, metavar="PLAN.json")
    _units_option(parts)
    parts.set_defaults(run=_parts)

    tour = commands.add_parser("round", help="the readings worth taking in a box")
    tour.add_argument("plan", type=Path, metavar="PLAN.json")
    tour.add_argument("--most", type=int, default=8, metavar="N", help="at most (default %(default)s)")
    _units_option(tour)
    tour.set_defaults(run=_round)

    fitting = commands.add_parser("fit", help="what readings say of a box")
    fitting.add_argument("plan", type=Path, metavar="PLAN.json")
    fitting.add_argument(
        "readings", type=Path, metavar="READINGS.csv", help="as the readings screen gives them"
    )
    fitting.add_argument("-o", "--output", type=Path, metavar="FITTED.json", help="the plan as fitted")
    _units_option(fitting)
    fitting.set_defaults(run=_fit)

    catalog = commands.add_parser("catalog", help="list or show reference data")
    catalog.add_argument(
        "kind", nargs="?", choices=("lamps", "meshes", "materials", "species"), help="what to list"
    )
    catalog.add_argument("id", nargs="?", help="show this entry in full")
    catalog.set_defaults(run=_catalog)

    for name, what in (("backup", "copy the data file"), ("restore", "go back to a backup")):
        command = commands.add_parser(name, help=what)
        command.add_argument("file", type=Path, metavar="FILE")
        command.add_argument("--data", type=Path, default=Path("data"), help="default %(default)s")
        command.set_defaults(run=_backup if name == "backup" else _restore)
    return parser


def _units_option(command: argparse.ArgumentParser) -> None:
    command.add_argument(
        "--units", choices=("metric", "imperial"), default="metric", help="default %(default)s"
    )


def _read_plan(path: Path) -> tuple[PlanDocument, Plan]:
    """The document and core plan of a file."""
    from noonshade.catalog import load_catalog
    from noonshade.formats.plan_document import LARGEST_BYTES, parse_plan
    from noonshade.formats.plan_resolve import resolve

    try:
        if path.is_file() and path.stat().st_size > LARGEST_BYTES:
            raise BadInput(f"{path} is larger than {LARGEST_BYTES // 1000} kB; a plan is far smaller")
        data = path.read_bytes()
    except OSError as error:
        raise BadInput(f"{path}: {error.strerror}") from error
    document = parse_plan(data)
    return document, resolve(document, load_catalog())


def _evaluate(options: argparse.Namespace) -> int:
    from noonshade.catalog import load_catalog
    from noonshade.core.evaluate import evaluate
    from noonshade.core.uncertainty.intervals import intervals
    from noonshade.core.verdict.mends import proposals

    document, plan = _read_plan(options.plan)
    result = evaluate(plan)
    mends = {}
    if options.mends:
        catalog = load_catalog()
        lamps, meshes = tuple(catalog.lamps.values()), tuple(catalog.meshes.values())
        mends = {v.id: proposals(result, v, lamps, meshes) for v in result.verdicts if v.fails}
        mends |= {f.id: proposals(result, f, lamps, meshes) for f in result.findings if f.fails}
    spread = {i.verdict_id: i for i in intervals(result)} if options.intervals else {}
    if options.format == "json":
        from noonshade.web.present import evaluation_model, mend_model

        shown = evaluation_model(result).model_dump(mode="json", exclude={"section", "plan_view"})
        if options.mends:
            shown["mends"] = {
                key: [mend_model(mend, document).model_dump(mode="json") for mend in found]
                for key, found in mends.items()
            }
        if options.intervals:
            shown["intervals"] = {key: asdict(one) for key, one in spread.items()}
        print(json.dumps(shown, indent=2, ensure_ascii=False))
    else:
        from noonshade.report import evaluation_text

        evaluation_text(result, mends, sys.stdout, spread)
    return FAILS_CHECKS if options.strict and not result.meets_needs else OK


def _probe(options: argparse.Namespace) -> int:
    from noonshade.core.evaluate import evaluate
    from noonshade.core.probe import probe
    from noonshade.report import reading_text

    points = [_point(text) for text in options.at]
    _, plan = _read_plan(options.plan)
    result = evaluate(plan)
    readings = [probe(result, point) for point in points]
    if options.format == "json":
        print(json.dumps([asdict(r) for r in readings], indent=2))
    else:
        for reading in readings:
            reading_text(reading, sys.stdout)
    return OK


def _round(options: argparse.Namespace) -> int:
    from noonshade.core.evaluate import evaluate
    from noonshade.core.readings import propose_round
    from noonshade.report import round_text

    if not 1 <= options.most <= 20:
        raise BadInput(f"--most {options.most}: must be 1 to 20")
    _, plan = _read_plan(options.plan)
    tasks = propose_round(plan, options.most, evaluation=evaluate(plan))
    round_text(plan, tasks, options.units, sys.stdout)
    return OK


def _fit(options: argparse.Namespace) -> int:
    from noonshade.catalog import load_catalog
    from noonshade.core.readings import FitError, fit, fitted
    from noonshade.core.readings.seen import seen
    from noonshade.formats.plan_document import plan_json
    from noonshade.formats.plan_resolve import measured_document, resolve
    from noonshade.formats.readings_csv import read_readings_csv
    from noonshade.formats.text_file import FileFormatError, decoded
    from noonshade.report import fit_text

    document, _ = _read_plan(options.plan)
    # From the catalogue's values, whatever was fitted before.
    plan = resolve(document.model_copy(update={"measured": None}), load_catalog())
    try:
        file = read_readings_csv(decoded(options.readings.read_bytes()))
        found = fit(plan, file.readings)
    except OSError as error:
        raise BadInput(f"{options.readings}: {error.strerror}") from error
    except (FileFormatError, FitError) as error:
        raise BadInput(f"{options.readings}: {error}") from error
    fit_text(plan, found, options.units, sys.stdout)
    if options.output is not None:
        from datetime import datetime

        day = file.last_day or datetime.now().astimezone().date().isoformat()
        kept = measured_document(fitted(found, plan, day, seen(found.evaluation, file.readings)))
        text = plan_json(document.model_copy(update={"measured": kept}))
        _write(options.output, text.encode())
    return OK


def _field(options: argparse.Namespace) -> int:
    from noonshade.core.evaluate import evaluate
    from noonshade.core.fields import plan_view, section, surface_field
    from noonshade.report import field_csv

    if not 8 <= options.columns <= 1000:
        raise BadInput(f"--columns {options.columns}: must be 8 to 1000")
    _, plan = _read_plan(options.plan)
    result = evaluate(plan)
    n = options.columns
    if options.surface is not None:
        field_csv(surface_field(result, options.surface, plan.box.length_m / n), sys.stdout)
    elif options.above is not None:
        field_csv(plan_view(result, options.above, n, max(8, n // 2)), sys.stdout)
    else:
        field_csv(section(result, options.section, n, max(8, n // 2)), sys.stdout)
    return OK


def _day(options: argparse.Namespace) -> int:
    from noonshade.core.day import simulate_day
    from noonshade.core.drills import drills_of, play
    from noonshade.core.evaluate import evaluate
    from noonshade.report import day_csv, day_text, drill_text

    _, plan = _read_plan(options.plan)
    if options.season != "now" and getattr(plan.room, options.season) is None:
        raise BadInput(f"--season {options.season}: the plan says nothing of the room in {options.season}")
    evaluation = evaluate(plan)
    day = simulate_day(evaluation, options.season)
    if options.drills:
        print(f"{plan.name}: what may go wrong (predicted, not measured)")
        for drill in drills_of(day.plan):
            drill_text(play(drill, day, evaluation), sys.stdout)
    elif options.format == "text":
        day_text(day, sys.stdout)
    else:
        day_csv(day, sys.stdout)
    return OK


def _overtime(options: argparse.Namespace) -> int:
    from noonshade.core.evaluate import evaluate
    from noonshade.core.overtime import over_time
    from noonshade.report import over_time_text

    _, plan = _read_plan(options.plan)
    over_time_text(over_time(evaluate(plan)), sys.stdout)
    return OK


def _report(options: argparse.Namespace) -> int:
    from datetime import datetime

    from noonshade.core.day import simulate_day
    from noonshade.core.evaluate import evaluate
    from noonshade.formats.printed import Edition, PrintError, pdf_of, report_html

    kind = _ending(options.output, (".pdf", ".html"))
    _, plan = _read_plan(options.plan)
    evaluation = evaluate(plan)
    html = report_html(evaluation, simulate_day(evaluation), Edition(datetime.now(), units=options.units))
    try:
        _write(options.output, html.encode() if kind == ".html" else pdf_of(html))
    except PrintError as error:
        raise BadInput(str(error)) from error
    return OK


def _draw(options: argparse.Namespace) -> int:
    from noonshade.core.evaluate import evaluate
    from noonshade.core.fields import plan_view, section
    from noonshade.formats.drawing import above_svg, front_svg
    from noonshade.formats.printed import PrintError, png_of

    kind = _ending(options.output, (".svg", ".png"))
    _, plan = _read_plan(options.plan)
    result = evaluate(plan)
    if options.view == "above":
        svg = above_svg(result, plan_view(result, options.at), options.field, options.units)
    else:
        svg = front_svg(result, section(result, options.at), options.field, options.units)
    try:
        _write(options.output, svg.encode() if kind == ".svg" else png_of(svg, options.width))
    except (PrintError, ValueError) as error:
        raise BadInput(str(error)) from error
    return OK


def _parts(options: argparse.Namespace) -> int:
    from noonshade.report import building_text

    _, plan = _read_plan(options.plan)
    building_text(plan, options.units, sys.stdout)
    return OK


def _ending(path: Path, allowed: tuple[str, ...]) -> str:
    if path.suffix.lower() not in allowed:
        raise BadInput(f"--output {path}: must end in {' or '.join(allowed)}")
    return path.suffix.lower()


def _write(path: Path, content: bytes) -> None:
    try:
        path.write_bytes(content)
    except OSError as error:
        raise BadInput(f"{path}: {error.strerror}") from error


def _point(text: str) -> tuple[float, float, float]:
    parts = text.split(",")
    try:
        x, y, z = (float(part) for part in parts)
    except ValueError as error:
        raise BadInput(f"--at {text}: three numbers in metres are needed, as in 0.3,0.3,0.2") from error
    if not all(abs(v) < 1e6 for v in (x, y, z)):
        raise BadInput(f"--at {text}: the numbers must be finite")
    return x, y, z


def _catalog(options: argparse.Namespace) -> int:
    from noonshade.catalog import load_catalog

    catalog = load_catalog()
    tables: dict[str, Mapping[str, Any]] = {
        "lamps": catalog.lamps,
        "meshes": catalog.meshes,
        "materials": catalog.materials,
        "species": catalog.species,
    }
    kinds = [options.kind] if options.kind else list(tables)
    if options.id is not None:
        table = tables[options.kind]
        if options.id not in table:
            raise BadInput(f"no {options.id!r} among the {options.kind}: {', '.join(sorted(table))}")
        print(json.dumps(asdict(table[options.id]), indent=2, ensure_ascii=False))
        return OK
    for kind in kinds:
        print(kind)
        for key, entry in tables[kind].items():
            label = getattr(entry, "label", None) or getattr(entry, "scientific_name", "")
            print(f"  {key:24} {label}")
    return OK


def _backup(options: argparse.Namespace) -> int:
    from noonshade.store.database import Database

    source = options.data / DATA_FILE
    if not source.is_file():
        raise BadInput(f"no data file at {source}; name its folder with --data")
    Database.open(source).backup(options.file)
    print(f"{source} copied to {options.file}")
    return OK


def _restore(options: argparse.Namespace) -> int:
    from noonshade.store.database import Database

    target = Database.open(options.data / DATA_FILE)
    safety = target.restore(options.file)
    print(f"{target.path} is now as in {options.file}; what was there before is in {safety}")
    return OK


def _serve(options: argparse.Namespace) -> int:
    import waitress

    from noonshade.demo import seed, seed_room
    from noonshade.web import Settings, create_app
    from noonshade.web.app import BODY_LIMIT_BYTES
    from noonshade.web.guard import LOOPBACK, is_loopback

    if not 1 <= options.port <= 65535:
        raise BadInput(f"--port {options.port}: must be 1 to 65535")
    local = is_loopback(options.host)
    passphrase = _passphrase(options.passphrase_file)
    if not local and not passphrase:
        raise BadInput(
            f"--host {options.host} opens the program to the network: set a passphrase with "
            "--passphrase-file or NOONSHADE_PASSPHRASE first"
        )
    listener = _bound(options.host, options.port)
    folder = options.data or Path("demo-data" if options.demo else "data")
    app = create_app(
        Settings(
            data_file=folder / DATA_FILE,
            demo=options.demo,
            allowed_hosts=LOOPBACK if local else None,
            passphrase=None if local else passphrase,
        )
    )
    if options.demo:
        seed(app.extensions["plans"])
        seed_room(app.extensions["settings"])
    address = f"http://{'[' + options.host + ']' if ':' in options.host else options.host}:{options.port}/"
    _announce(sys.stdout, address, folder, options.demo)
    # The application answers oversized requests itself, with a problem document; far larger ones are
    # cut off before they fill the disk.
    waitress.serve(
        app,
        sockets=[listener],
        threads=4,
        ident=None,
        max_request_body_size=8 * BODY_LIMIT_BYTES,
    )
    return OK


def _announce(out: TextIO, address: str, folder: Path, demo: bool) -> None:
    print(f"Noon Shade {'demo ' if demo else ''}is ready at {address}", file=out)
    print(f"Data: {folder.resolve()}   Stop with Ctrl-C", file=out, flush=True)


def _passphrase(path: Path | None) -> str | None:
    if path is None:
        return os.environ.get("NOONSHADE_PASSPHRASE") or None
    try:
        text = path.read_text(encoding="utf-8").strip()
    except (OSError, UnicodeDecodeError) as error:
        raise BadInput(f"the passphrase file {path} cannot be read: {error}") from error
    if len(text) < 8:
        raise BadInput(f"the passphrase in {path} must have at least 8 characters")
    return text


def _bound(host: str, port: int) -> socket.socket:
    family = socket.AF_INET6 if ":" in host else socket.AF_INET
    listener = socket.socket(family, socket.SOCK_STREAM)
    listener.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    try:
        listener.bind((host, port))
    except OSError as error:
        listener.close()
        if error.errno == errno.EADDRINUSE:
            raise BadInput(
                f"port {port} is in use by another program; choose another with --port "
                f"(make demo PORT={port + 1})"
            ) from error
        raise BadInput(f"cannot listen on {host}, port {port}: {error.strerror or error}") from error
    return listener
