"""Designs for every species in three rooms: what fits, what conflicts, how long it takes.

Every twelfth animal by default; ``--every 1`` computes all of them, which takes hours.
"""

from __future__ import annotations

import argparse
import statistics
import time
from dataclasses import dataclass, replace
from importlib.resources import files

from noonshade.catalog import load_catalog
from noonshade.core.design.brief import Brief
from noonshade.core.design.designer import Design, design
from noonshade.core.design.shells import Stock
from noonshade.core.errors import DesignError, PlanError
from noonshade.core.needs.species import StageId
from noonshade.core.plan import Room
from noonshade.formats.plan_document import parse_plan
from noonshade.formats.plan_from_document import resolve
from noonshade.services.workers import Workers

ROOMS = {"21/17 °C": (21.0, 17.0), "18/13 °C": (18.0, 13.0), "25/21 °C": (25.0, 21.0)}
HUMIDITY = 0.45
STAGES: tuple[StageId, ...] = ("adult", "young")
EVERY = 12


@dataclass(frozen=True)
class Job:
    """One animal in one room; ``year`` with the months of the demo room."""

    species_id: str
    stage: StageId
    room: str
    year: bool = False


@dataclass(frozen=True)
class Result:
    """What a design came to; ``over_k`` is the worst surface above its ceiling, ``misses`` what is off."""

    job: Job
    seconds: float
    screened: int
    fits: bool
    all_year: bool
    conflict: bool
    over_k: float
    misses: str


def run(job: Job, workers: Workers) -> Result:
    """Design for one animal, on all processes."""
    catalog = load_catalog()
    room = Room(*ROOMS[job.room], HUMIDITY)
    if job.year:
        raw = (files("noonshade.demo") / "collared-lizard.json").read_bytes()
        room = replace(room, months=resolve(parse_plan(raw), catalog).room.months)
    brief = Brief(catalog.species[job.species_id], room, stage=job.stage)
    begun = time.monotonic()
    try:
        found = design(brief, Stock(catalog.materials, catalog.meshes, catalog.lamps), workers.map)
    except (PlanError, DesignError) as error:
        return Result(job, time.monotonic() - begun, 0, False, False, False, 0.0, str(error)[:60])
    return _judged(job, found, time.monotonic() - begun)


def _judged(job: Job, found: Design, seconds: float) -> Result:
    true = any(c.true for c in found.conflicts)
    if not found.set_ups:
        return Result(job, seconds, found.screened, False, False, true, 0.0, "nothing without danger")
    best = found.set_ups[0]
    evaluation = best.evaluation
    over = max(
        (
            c.value - c.need.high
            for one in found.set_ups
            for c in one.evaluation.checks
            if c.need.quantity == "surface_temperature" and c.value is not None and c.need.high is not None
        ),
        default=0.0,
    )
    off = [f.id for f in evaluation.failing] or [c.id + "?" for c in evaluation.uncertain]
    off += [f"month {m.number}" for m in best.months if not m.fits][:3] if not off else []
    return Result(
        job,
        seconds,
        found.screened,
        best.fits,
        best.fits_all_year,
        true,
        max(over, 0.0),
        ", ".join(off)[:60],
    )


def row(r: Result) -> None:
    """One design, as soon as it is there."""
    state = "all year" if r.job.year and r.all_year else "fits" if r.fits else "off"
    state = "conflict" if r.conflict and state == "off" else state
    when = f"{r.job.room}{', year' if r.job.year else ''}"
    print(
        f"{r.job.species_id:32} {r.job.stage:6} {when:16} {state:9} {r.seconds:5.1f} s "
        f"{r.screened:7,} screened  {r.misses}",
        flush=True,
    )


def summary(results: list[Result], cores: int) -> None:
    """The shares the designer is measured by."""
    now = [r for r in results if not r.job.year]
    year = [r for r in results if r.job.year]
    print()
    for room in ROOMS:
        here = [r for r in now if r.job.room == room]
        if here:
            fit, true = sum(r.fits for r in here), sum(not r.fits and r.conflict for r in here)
            share = 100 * fit / len(here)
            print(
                f"{room}: {fit} of {len(here)} with every required check in range ({share:.0f} %)", end=", "
            )
            print(f"{true} with a true conflict, {len(here) - fit - true} neither")
    if year:
        good = sum(r.all_year or r.conflict for r in year)
        print(f"the demo room's year: {good} of {len(year)} in range in all months or with a true conflict")
    print(f"worst surface over its ceiling: {max(r.over_k for r in results):.1f} °C")
    for part, name in ((now, "in a room"), (year, "in a room with its months")):
        seconds = sorted(r.seconds for r in part)
        if seconds:
            late = seconds[min(len(seconds) - 1, int(0.95 * len(seconds)))]
            print(f"seconds {name}, on {cores} processes: ", end="")
            print(f"median {statistics.median(seconds):.1f}, 95 % {late:.1f}, worst {seconds[-1]:.1f}")
    spent = sum(r.seconds for r in results)
    print(f"candidates screened a second: {sum(r.screened for r in results) / spent:,.0f}")


def jobs(
    every: int, first: int = 0, rooms: bool = True, year: bool = True, only: tuple[str, ...] = ()
) -> list[Job]:
    """Animals to design for, each in every room, and in the year of the demo room."""
    catalog = load_catalog()
    animals = [
        (name, stage)
        for name in only or sorted(catalog.species)
        for stage in STAGES
        if any(s.id == stage for s in catalog.species[name].stages)
    ][first::every]
    found = [Job(name, stage, room) for name, stage in animals for room in ROOMS if rooms]
    return found + [Job(name, stage, "21/17 °C", True) for name, stage in animals if year]


def main(
    every: int = EVERY,
    processes: int = 2,
    first: int = 0,
    rooms: bool = True,
    year: bool = True,
    only: tuple[str, ...] = (),
) -> None:
    """Design and print the table."""
    results = []
    workers = Workers(processes)
    try:
        # What is loaded and compiled once is not counted.
        run(jobs(1)[0], workers)
        for job in jobs(every, first, rooms, year, only):
            results.append(run(job, workers))
            row(results[-1])
    finally:
        workers.close()
    summary(results, processes)


if __name__ == "__main__":
    reader = argparse.ArgumentParser(description=__doc__)
    reader.add_argument("--every", type=int, default=EVERY, help="every Nth animal (default %(default)s)")
    reader.add_argument("--from", type=int, default=0, dest="first", help="number of the first, from 0")
    reader.add_argument("--processes", type=int, default=2, help="for each design (default %(default)s)")
    reader.add_argument("--no-rooms", action="store_true", help="only the demo room's months")
    reader.add_argument("--no-year", action="store_true", help="leave the demo room's months aside")
    reader.add_argument("--species", nargs="+", default=(), help="only these, by their ids")
    chosen = reader.parse_args()
    main(
        1 if chosen.species else chosen.every,
        chosen.processes,
        chosen.first,
        not chosen.no_rooms,
        not chosen.no_year,
        tuple(chosen.species),
    )
