"""The same work from a terminal."""

from __future__ import annotations

import argparse
import os
import sys
from collections.abc import Sequence
from pathlib import Path

from noonshade import __version__
from noonshade.cli import plans
from noonshade.cli.data import back_up, restore
from noonshade.cli.design import add_design
from noonshade.cli.inputs import BAD_INPUT, DEFAULT_PORT, OK, BadInput
from noonshade.cli.server import run_server
from noonshade.core.errors import ConvergenceError, PlanError


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


def _plan_arguments(command: argparse.ArgumentParser) -> None:
    command.add_argument("plan", type=Path, metavar="PLAN.json")
    command.add_argument(
        "--species",
        type=Path,
        action="append",
        default=[],
        metavar="SPECIES.json",
        help="a species of your own the plan names; may be repeated",
    )


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(
        prog="noonshade",
        description="Plan the lighting and heating of animal enclosures.",
        epilog="Exit status: 0 done; 1 the plan fails its checks (evaluate --strict); 2 bad input; "
        "3 no set-up fits (design). Figures are predictions until you have measured them.",
    )
    parser.add_argument("--version", action="version", version=f"noonshade {__version__}")
    commands = parser.add_subparsers(dest="command", required=True, metavar="COMMAND")

    serve = commands.add_parser("serve", help="run the web application")
    serve.add_argument("--demo", action="store_true", help="with the demo room, in a separate folder")
    serve.add_argument("--host", default="127.0.0.1", help="address to listen on (default %(default)s)")
    serve.add_argument("--port", type=int, default=DEFAULT_PORT, help="default %(default)s")
    serve.add_argument("--data", type=Path, help="data folder (default ./data, or ./demo-data)")
    serve.add_argument(
        "--passphrase-file",
        type=Path,
        help="file with the passphrase asked for when listening beyond this machine "
        "(or the environment variable NOONSHADE_PASSPHRASE)",
    )
    serve.add_argument(
        "--backups",
        type=Path,
        metavar="FOLDER",
        help="where backups go (default: backups in the data folder)",
    )
    serve.set_defaults(run=run_server)

    evaluate = commands.add_parser("evaluate", help="figures and checks of a plan file")
    _plan_arguments(evaluate)
    evaluate.add_argument("--format", choices=("text", "json"), default="text")
    evaluate.add_argument("--strict", action="store_true", help="exit 1 if any check fails")
    evaluate.add_argument("--fixes", action="store_true", help="compute changes for each failure")
    evaluate.add_argument(
        "--quick", action="store_true", help="without chances and months: a few seconds less"
    )
    evaluate.add_argument("--intervals", action="store_true", help="how far each figure may be off")
    evaluate.set_defaults(run=plans.show_evaluation)

    add_design(commands)

    probe = commands.add_parser("probe", help="every quantity at points of a plan")
    _plan_arguments(probe)
    where = probe.add_mutually_exclusive_group(required=True)
    where.add_argument(
        "--at",
        action="append",
        metavar="X,Y,Z",
        help="metres from the inner lower front left corner; may be repeated",
    )
    where.add_argument(
        "--points",
        type=Path,
        metavar="POINTS.json",
        help="light alone at many points [[x, y, z], …] in metres, every lamp of the day at full power",
    )
    probe.add_argument(
        "--reflectance",
        type=float,
        metavar="R",
        help="with --points: what the ground and every closed inner face send back of all light, 0 to 0.95",
    )
    probe.add_argument(
        "--bead",
        type=float,
        default=6.0,
        metavar="MM",
        help="diameter of the temperature probe's bead, 0.5 to 50 (default 6)",
    )
    probe.add_argument("--format", choices=("text", "json"), default="text")
    probe.set_defaults(run=plans.show_probe)

    field = commands.add_parser("field", help="light and temperatures over a section or surface, as CSV")
    _plan_arguments(field)
    where = field.add_mutually_exclusive_group()
    where.add_argument("--section", type=float, metavar="Y", help="seen from the front, at a depth in m")
    where.add_argument("--above", type=float, metavar="Z", help="seen from above, at a height in m")
    where.add_argument("--surface", metavar="ID", help="over a slab, a hide's roof, or 'substrate'")
    field.add_argument("--columns", type=int, default=60, metavar="N", help="samples along x (default 60)")
    field.set_defaults(run=plans.show_field)

    day = commands.add_parser("day", help="the simulated day, as CSV")
    _plan_arguments(day)
    day.add_argument(
        "--season",
        choices=("now", "winter", "summer"),
        default="now",
        help="which of the room's climates (default %(default)s)",
    )
    day.add_argument("--format", choices=("csv", "text"), default="csv", help="every minute, or a summary")
    day.add_argument("--what-if", action="store_true", help="run the what-if tests, as text")
    day.set_defaults(run=plans.show_day)

    scenarios = commands.add_parser("scenarios", help="what holds over the day, the seasons and the years")
    _plan_arguments(scenarios)
    scenarios.set_defaults(run=plans.show_scenarios)

    report = commands.add_parser(
        "report", help="a plan on paper: drawing, figures, checks, parts, cautions"
    )
    _plan_arguments(report)
    report.add_argument("-o", "--output", type=Path, required=True, metavar="FILE", help=".pdf or .html")
    _units_option(report)
    report.set_defaults(run=plans.write_report)

    draw = commands.add_parser("draw", help="the enclosure with a field over it, as a picture")
    _plan_arguments(draw)
    draw.add_argument("-o", "--output", type=Path, required=True, metavar="FILE", help=".svg or .png")
    draw.add_argument("--field", choices=("uvi", "air", "irradiance", "light", "humidity"), default="uvi")
    draw.add_argument("--view", choices=("front", "above"), default="front")
    draw.add_argument("--at", type=float, metavar="M", help="depth of the section, or view height, in m")
    draw.add_argument("--width", type=int, default=1600, metavar="PX", help="of a .png (default 1600)")
    _units_option(draw)
    draw.set_defaults(run=plans.write_drawing)

    parts = commands.add_parser("parts", help="what to buy and what to do for a plan")
    _plan_arguments(parts)
    _units_option(parts)
    parts.set_defaults(run=plans.show_parts)

    tour = commands.add_parser("round", help="the readings worth taking in an enclosure")
    _plan_arguments(tour)
    tour.add_argument("--most", type=int, default=8, metavar="N", help="at most (default %(default)s)")
    _units_option(tour)
    tour.set_defaults(run=plans.show_round)

    fitting = commands.add_parser("fit", help="what readings say of an enclosure")
    _plan_arguments(fitting)
    fitting.add_argument(
        "readings", type=Path, metavar="READINGS.csv", help="as the readings screen gives them"
    )
    fitting.add_argument("-o", "--output", type=Path, metavar="FITTED.json", help="the plan as fitted")
    _units_option(fitting)
    fitting.set_defaults(run=plans.show_fit)

    catalog = commands.add_parser("catalog", help="list or show reference data")
    catalog.add_argument(
        "kind", nargs="?", choices=("lamps", "meshes", "materials", "species"), help="what to list"
    )
    catalog.add_argument("id", nargs="?", help="show this entry in full; a species by any of its names")
    catalog.add_argument(
        "--species",
        type=Path,
        action="append",
        default=[],
        metavar="SPECIES.json",
        help="a species of your own beside the shipped ones; may be repeated",
    )
    catalog.set_defaults(run=plans.show_catalog)

    reference = commands.add_parser(
        "reference", help="prescribed heat in an enclosure, to compare with another simulation, as JSON"
    )
    reference.add_argument("subject", choices=("heat",), help="what is compared")
    reference.add_argument("case", type=Path, metavar="CASE.json", help="as docs/references.md describes")
    reference.set_defaults(run=plans.show_reference)

    for name, what, file in (
        ("backup", "everything, photographs included, to one archive", "FILE.zip"),
        ("restore", "go back to a backup", "FILE"),
    ):
        command = commands.add_parser(name, help=what)
        command.add_argument("file", type=Path, metavar=file)
        command.add_argument("--data", type=Path, default=Path("data"), help="default %(default)s")
        command.set_defaults(run=back_up if name == "backup" else restore)
    return parser


def _units_option(command: argparse.ArgumentParser) -> None:
    command.add_argument(
        "--units", choices=("metric", "imperial"), default="metric", help="default %(default)s"
    )
