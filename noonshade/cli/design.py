"""The design command: from an animal and a room to set-ups."""

from __future__ import annotations

import argparse
import json
import sys
import time
from pathlib import Path
from typing import TYPE_CHECKING, Any

from noonshade.cli.inputs import NOTHING_FITS, OK, BadInput, read_species, write

if TYPE_CHECKING:
    from noonshade.catalog import Catalog
    from noonshade.core.design.brief import Brief
    from noonshade.core.design.designer import Progress
    from noonshade.core.design.shells import Size
    from noonshade.core.needs.species import Species
    from noonshade.core.plan import Room
    from noonshade.services.workers import Workers

LARGEST_BYTES = 100_000
KINDS = ("timber", "pvc", "glass", "mesh", "table")
STAGES = ("adult", "young", "hatchling", "gravid", "larva", "aquatic", "land")


def add_design(commands: Any) -> None:
    """The command and its options."""
    command = commands.add_parser(
        "design",
        help="set-ups for an animal in a room",
        description="Looks for enclosures, lamps, heaters and settings that meet what an animal needs.",
        epilog="Exit status: 0 a set-up whose required checks are all in range; 3 none, with the reasons; "
        "2 bad input. Figures are predictions until you have measured them.",
    )
    command.add_argument("species_id", metavar="SPECIES_ID", help="as `catalog species` lists them")
    command.add_argument(
        "--species",
        type=Path,
        action="append",
        default=[],
        metavar="FILE",
        help="a species of your own; may be repeated",
    )
    command.add_argument("--stage", choices=STAGES, default="adult", help="stage of life (default adult)")
    command.add_argument("--count", type=int, default=1, metavar="N", help="animals, 1 to 50 (default 1)")
    command.add_argument(
        "--enclosure", metavar="L,D,H", help="inside sizes in cm (default: the least the animal is given)"
    )
    command.add_argument("--kind", choices=KINDS, help="what the enclosure is built of (default: chosen)")
    command.add_argument(
        "--room",
        metavar="DAY,NIGHT,RH",
        default="21,17,45",
        help="°C by day, °C by night, per cent humidity (default %(default)s)",
    )
    command.add_argument(
        "--months", type=Path, metavar="FILE", help="JSON: twelve [DAY, NIGHT, RH], January first"
    )
    command.add_argument(
        "--own",
        type=Path,
        metavar="FILE",
        help='JSON: lamps you own and how many, as {"halogen-flood": 2}; used first',
    )
    command.add_argument(
        "--never",
        action="append",
        default=[],
        choices=("mats", "mercury", "ceramics", "misting"),
        help="never use these; may be repeated",
    )
    command.add_argument(
        "--budget",
        type=float,
        metavar="MONEY",
        help="what lamps, heaters and thermostats may cost to buy (prices are estimates)",
    )
    command.add_argument("--seed", type=int, default=0, metavar="N", help="of the search (default 0)")
    command.add_argument("-o", "--output", type=Path, metavar="PLAN.json", help="the best set-up as a plan")
    command.add_argument("--format", choices=("text", "json"), default="text")
    command.set_defaults(run=show_design)


def show_design(options: argparse.Namespace) -> int:
    """The best set-ups, or the reasons why there is none."""
    from noonshade.catalog import load_catalog
    from noonshade.services.loading import load_designer
    from noonshade.services.workers import Workers

    catalog = load_catalog()
    brief = _brief(options, dict(catalog.species), set(catalog.lamps))
    # The processes load what they need while this one does.
    workers = Workers(begin=load_designer)
    workers.start()
    try:
        return _designed(options, catalog, brief, workers)
    finally:
        workers.close()


def _designed(options: argparse.Namespace, catalog: Catalog, brief: Brief, workers: Workers) -> int:
    from noonshade.core.design.designer import design
    from noonshade.core.design.shells import Stock
    from noonshade.core.errors import DesignError
    from noonshade.formats.document import json_text
    from noonshade.formats.results.design import design_model, set_up_document

    stock = Stock(catalog.materials, catalog.meshes, catalog.lamps)
    begun = time.monotonic()
    shown = sys.stderr.isatty()

    def report(progress: Progress) -> bool:
        if shown:
            print(f"\r{progress.screened:,} candidates screened …", end="", file=sys.stderr, flush=True)
        return True

    try:
        found = design(brief, stock, workers.map, report)
    except DesignError as error:
        raise BadInput(str(error)) from error
    finally:
        if shown:
            print("\r" + " " * 40 + "\r", end="", file=sys.stderr)
    model = design_model(found, time.monotonic() - begun)
    best = found.set_ups[0] if found.set_ups else None
    if best is not None and options.output is not None:
        write(options.output, json_text(set_up_document(best)).encode())
    if options.format == "json":
        print(json.dumps(model.model_dump(mode="json"), indent=2, ensure_ascii=False))
    else:
        from noonshade.cli.text import design_text

        design_text(found, sys.stdout)
    return OK if best is not None and best.fits else NOTHING_FITS


def _brief(options: argparse.Namespace, known: dict[str, Species], lamps: set[str]) -> Brief:
    from noonshade.core.design.brief import Brief

    for one in map(read_species, options.species):
        known[one.id] = one
    species = known.get(options.species_id)
    if species is None:
        raise BadInput(
            f"{options.species_id}: no such species; `noonshade catalog species` lists them, and "
            "`noonshade catalog species NAME` finds one by any name"
        )
    stages = [s.id for s in species.stages]
    if options.stage not in stages:
        raise BadInput(f"--stage {options.stage}: {species.common_name} has {', '.join(stages)}")
    if not 1 <= options.count <= 50:
        raise BadInput(f"--count {options.count}: must be 1 to 50")
    if options.budget is not None and not 0 <= options.budget <= 100_000:
        raise BadInput(f"--budget {options.budget:g}: must be 0 to 100000")
    owned = _owned(options.own, lamps)
    return Brief(
        species,
        _room(options),
        stage=options.stage,
        count=options.count,
        size=_size(options.enclosure),
        kind=options.kind,
        owned=owned,
        never=tuple(options.never),
        seed=options.seed,
        budget=options.budget,
    )


def _numbers(text: str, option: str, example: str, count: int) -> list[float]:
    try:
        values = [float(part) for part in text.split(",")]
    except ValueError as error:
        raise BadInput(f"{option} {text}: {count} numbers are needed, as in {example}") from error
    if len(values) != count:
        raise BadInput(f"{option} {text}: {count} numbers are needed, as in {example}")
    return values


def _size(text: str | None) -> Size | None:
    from noonshade.core.design.shells import Size

    if text is None:
        return None
    values = _numbers(text, "--enclosure", "120,60,60", 3)
    for value, name, most in zip(values, ("length", "depth", "height"), (500, 300, 300), strict=True):
        if not 20 <= value <= most:
            raise BadInput(f"--enclosure {text}: the {name} must be 20 to {most} cm")
    return Size(*(value / 100 for value in values))


def _climate(values: list[float], option: str) -> tuple[float, float, float]:
    day, night, humidity = values
    for value, name in ((day, "by day"), (night, "by night")):
        if not -10 <= value <= 50:
            raise BadInput(f"{option}: {value:g} °C {name}; must be -10 to 50")
    if not 1 <= humidity <= 100:
        raise BadInput(f"{option}: {humidity:g} % humidity; must be 1 to 100")
    return day, night, humidity / 100


def _room(options: argparse.Namespace) -> Room:
    from noonshade.core.plan import Room, RoomClimate

    day, night, humidity = _climate(_numbers(options.room, "--room", "21,17,45", 3), "--room")
    months: tuple[RoomClimate, ...] = ()
    if options.months is not None:
        rows = _json(options.months, "--months")
        example = "twelve [DAY, NIGHT, RH], as in [[19, 15, 45], …]"
        if not isinstance(rows, list) or len(rows) != 12:
            raise BadInput(f"--months {options.months}: must hold {example}")
        for row in rows:
            whole = isinstance(row, list) and len(row) == 3
            if not whole or not all(isinstance(v, int | float) and not isinstance(v, bool) for v in row):
                raise BadInput(f"--months {options.months}: must hold {example}")
        months = tuple(RoomClimate(*_climate([float(v) for v in row], "--months")) for row in rows)
    return Room(day, night, humidity, months=months)


def _owned(path: Path | None, lamps: set[str]) -> dict[str, int]:
    if path is None:
        return {}
    found = _json(path, "--own")
    if not isinstance(found, dict) or not found:
        raise BadInput(f'--own {path}: must hold lamps and how many, as {{"halogen-flood": 2}}')
    for key, count in found.items():
        if key not in lamps:
            raise BadInput(f"--own {path}: no lamp {key!r}; `noonshade catalog lamps` lists them")
        if not isinstance(count, int) or isinstance(count, bool) or not 0 <= count <= 100:
            raise BadInput(f"--own {path}: {key}: how many must be a whole number, 0 to 100")
    return {str(key): int(count) for key, count in found.items()}


def _json(path: Path, option: str) -> object:
    try:
        if path.is_file() and path.stat().st_size > LARGEST_BYTES:
            raise BadInput(f"{option} {path}: larger than {LARGEST_BYTES // 1000} kB")
        return json.loads(path.read_bytes())
    except OSError as error:
        raise BadInput(f"{option} {path}: {error.strerror}") from error
    except (ValueError, RecursionError) as error:
        raise BadInput(f"{option} {path}: is not valid JSON") from error
