"""Eight months of the Millrace Reptile Room, made up: the same history for the same last day.

Nothing here happened. It is written through the stores as a keeper's own would be, so that every screen has
something to show; ``seed_history`` does nothing where there are animals already.
"""

from __future__ import annotations

import math
import random
from collections.abc import Iterator
from dataclasses import dataclass, field
from datetime import date, datetime, time, timedelta
from functools import partial
from zoneinfo import ZoneInfo

from noonshade.demo.lamps import seed_lamps
from noonshade.demo.pictures import picture
from noonshade.demo.readings import seed_readings
from noonshade.demo.tasks import Done, Resting, seed_tasks
from noonshade.formats.photograph import make_photograph
from noonshade.store.database import Transaction
from noonshade.store.installations import InstallationStore
from noonshade.store.logbook import AnimalRecord, EntryRecord, LogbookStore, PhotoRecord, utc
from noonshade.store.readings import ReadingStore
from noonshade.store.tasks import TaskStore

DAYS = 243
ZONE = ZoneInfo("Europe/London")


@dataclass(frozen=True, slots=True)
class Life:
    """One animal of the room, and how its days go: weights in g, length in m, days from shed to shed."""

    id: str
    name: str
    enclosure: str
    species: str
    sex: str
    age_days: int
    grams: float
    gain: float
    length_m: float
    foods: tuple[str, ...]
    refuses: float
    shed: int
    note: str = ""
    rest: tuple[int, int] | None = None
    # Every how manieth meal is written down: those of a grazer are not all worth it.
    meals_logged: int = 1
    story: tuple[tuple[int, str, str], ...] = field(default=())


# The story of each: days before the last, what kind of entry, and what it says.
LIVES = (
    Life(
        *("ember", "Ember", "collared-lizard", "crotaphytus-collaris", "female", 1130, 33.0, 0.10),
        *(0.101, ("5 crickets, calcium", "6 crickets", "3 locusts, calcium", "4 roaches"), 0.05, 48),
        note="From the room's own hatching. Scar on the left thumb.",
        rest=(12, 2),
        story=(
            (
                238,
                "observation",
                "Back from the winter rest: basks from ten o'clock, drinks from the dish.",
            ),
            (190, "observation", "Lies on the slab past four in the afternoon and hardly moves off it."),
            (96, "equipment", "Bulb failed in the morning. Replaced it by a flood of the same watts."),
            (95, "observation", "Basks again, colours back by noon."),
            (41, "observation", "Digs in the cool corner, no eggs found."),
        ),
    ),
    Life(
        *("rill", "Rill", "corn-snake", "pantherophis-guttatus", "male", 1900, 412.0, 0.06),
        *(0.92, ("1 mouse, adult", "1 mouse, adult", "1 rat, weaned"), 0.08, 46),
        note="Handed over by a household that moved. Quiet in the hand.",
        story=(
            (201, "observation", "Soaks in the water dish for two days. Ground checked for mites: none."),
            (
                150,
                "equipment",
                "Mat thermostat read 31 °C at the dial and 28 °C at the ground; moved the probe.",
            ),
        ),
    ),
    Life(
        *("weir", "Weir", "crocodile-lizard", "shinisaurus-crocodilurus", "female", 1480, 128.0, 0.04),
        *(0.178, ("2 earthworms", "3 earthworms, calcium", "1 snail", "4 crickets"), 0.12, 60),
        note="Papers with the room's files: protected species.",
        story=(
            (
                118,
                "observation",
                "Water at 27 °C in the heat wave. Frozen bottles twice a day, window shaded.",
            ),
            (112, "meal-refused", "3 earthworms"),
            (108, "observation", "Water 24 °C again; eats."),
        ),
    ),
    Life(
        *("corbel", "Corbel", "gargoyle-gecko", "rhacodactylus-auriculatus", "male", 900, 51.0, 0.16),
        *(0.112, ("fruit mix", "fruit mix", "4 crickets, calcium"), 0.06, 31),
        story=((70, "observation", "Sits above the hide at dusk, licks drops off the glass."),),
    ),
    Life(
        *("hopper", "Hopper", "giant-vinegaroon", "mastigoproctus-giganteus", "unknown", 1200, 9.4, 0.12),
        *(0.060, ("2 crickets", "1 roach"), 0.2, 0),
        note="Smells of vinegar when disturbed. Never under the lamp of the desk.",
        story=(
            (160, "observation", "Not seen for nine days; the burrow is closed. Left alone."),
            (99, "shed-complete", "Moulted below ground; pale for two days, chelicerae dark again."),
        ),
    ),
    Life(
        *("quern", "Quern", "hermanns-tortoise", "testudo-hermanni", "female", 3300, 640.0, -0.12),
        *(0.139, ("dandelion and plantain", "hay, clover, calcium", "weeds from the yard"), 0.04, 0),
        note="Rescue; shell with old pyramids.",
        rest=(12, 2),
        meals_logged=7,
        story=(
            (176, "observation", "Out in the pen by day. Grazes, basks with its legs out."),
            (60, "observation", "Indoors again. Sits under the lamp all day, eats less."),
            (25, "meal-refused", "hay, clover, calcium"),
            (22, "observation", "Plastron feels softer at the rear edge? Vet booked."),
            (
                18,
                "vet",
                "Shell firm, weight low for its length. Blood taken. Asked about the age of the tube.",
            ),
            (
                9,
                "note-enclosure",
                "Tube of unknown age, at least two years of use: read it with the UV meter.",
            ),
        ),
    ),
    Life(
        *("fettle", "Fettle", "panther-chameleon", "furcifer-pardalis", "male", 560, 136.0, 0.08),
        *(0.182, ("6 crickets, calcium", "5 locusts", "8 flies", "4 silkworms, calcium"), 0.07, 38),
        story=(
            (141, "illness", "Keeps the left eye shut in the afternoon. Drinks. Hangs low in the cage."),
            (140, "vet", "Eye flushed, a splinter of bark. Drops twice a day for five days."),
            (139, "treatment", "Eye drops, morning and evening, as the veterinarian ordered."),
            (133, "observation", "Eye open all day. Shoots at crickets again."),
            (35, "equipment", "Fine mesh on the lid brushed free of dust."),
        ),
    ),
    Life(
        *("puddle", "Puddle", "whites-tree-frog", "ranoidea-caerulea", "female", 1700, 43.0, 0.07),
        *(0.079, ("5 crickets", "4 crickets, calcium", "2 roaches"), 0.05, 0),
        story=(
            (
                88,
                "observation",
                "Sits in the open under the tube at noon, dry and pale. Nowhere dark to go?",
            ),
            (31, "meal-refused", "4 crickets"),
        ),
    ),
)
ROOM_STORY = (
    (230, "note", "Stock-taking: all enclosures read with the infrared thermometer."),
    (122, "note", "Heat wave: 31 °C on the landing at four. Blinds down, doors open at night."),
    (84, "note", "Smoke alarm tested, residual-current device tested: trips."),
    (15, "note", "Heating of the mill on since the first of the month."),
)


def seed_history(
    book: LogbookStore,
    tasks: TaskStore,
    installations: InstallationStore,
    readings: ReadingStore,
    until: date,
) -> int:
    """Write the history up to a day; returns how many entries were written, 0 where there are animals."""
    if book.animals.all(removed=True):
        return 0
    with book.database.transaction() as transaction:
        return _seed(transaction, book, tasks, installations, readings, until)


def _seed(
    transaction: Transaction,
    book: LogbookStore,
    tasks: TaskStore,
    installations: InstallationStore,
    readings: ReadingStore,
    until: date,
) -> int:
    chance = random.Random("Millrace")  # noqa: S311
    book.animals.put(transaction, *(_animal(life, until) for life in LIVES))
    resting: dict[str | None, Resting] = {life.enclosure: partial(_rests, life) for life in LIVES}
    done = seed_tasks(transaction, tasks, until - timedelta(DAYS), until, chance, resting)
    entries = [e for life in LIVES for e in _entries(life, until, done, chance)]
    for i, (ago, kind, text) in enumerate(ROOM_STORY):
        entries.append(
            _entry(f"room-{i}", None, None, kind, until - timedelta(ago), time(18, 5), text=text)
        )
    entries = [e for e in entries if e.at_utc <= utc(datetime.combine(until, time(23), ZONE))]
    book.entries.put(transaction, *sorted(entries, key=lambda e: (e.at_utc, e.id)))
    seed_lamps(transaction, installations, until)
    seed_readings(transaction, readings, until)
    for name, wanted, caption in (
        ("lizard", "ember-story-4", "Dug up by the cool hide"),
        ("scales", "ember-weight-", "On the kitchen scales of the room"),
        ("shed", "rill-shed-3", "Rill's shed in one piece"),
    ):
        found = [e for e in entries if e.id.startswith(wanted)]
        if found:
            entry_id = max(found, key=lambda e: e.at_utc).id
            made = make_photograph(picture(name))
            key = book.files.add(made.jpeg)
            photo = PhotoRecord(f"photo-{name}", entry_id, key, made.width, made.height, caption)
            book.photos.put(transaction, photo)
    return len(entries)


def _animal(life: Life, until: date) -> AnimalRecord:
    came = until - timedelta(DAYS + 40 + 11 * LIVES.index(life))
    hatched = until - timedelta(life.age_days + DAYS)
    return AnimalRecord(
        *(life.id, life.name, life.enclosure, life.species, life.sex),
        *(hatched.isoformat(), max(hatched, came).isoformat(), None, life.note),
    )


def _entries(life: Life, until: date, done: Done, chance: random.Random) -> Iterator[EntryRecord]:
    start = until - timedelta(DAYS)
    for i, day in enumerate(done[life.enclosure, "weighing"]):
        # It grows towards a weight, with what was eaten before showing on the scales.
        grown = 1.0 + life.gain * (1.0 - math.exp(-2.0 * (day - start).days / DAYS)) / (
            1.0 - math.exp(-2.0)
        )
        grams = life.grams * grown * (1.0 + chance.gauss(0.0, 0.008))
        grams = round(grams, 1) if grams < 100 else round(grams)
        yield _entry(f"{life.id}-weight-{i}", life, None, "weight", day, time(17, 40), value=float(grams))
    for i, ago in enumerate((DAYS - 3, DAYS // 2, 4)):
        share = 1.0 + 0.2 * max(life.gain, 0.0) * (i / 2.0 - 1.0)
        day = until - timedelta(ago)
        value = round(life.length_m * share, 3)
        yield _entry(f"{life.id}-length-{i}", life, None, "length", day, time(17, 45), value=value)
    for i, day in enumerate(done[life.enclosure, "feeding"][:: life.meals_logged]):
        food, luck = chance.choice(life.foods), chance.random()
        outcome = "refused" if luck < life.refuses else "partly" if luck < 2 * life.refuses else "eaten"
        at = time(19, chance.randrange(60)) if life.enclosure != "hermanns-tortoise" else time(9, 20)
        yield _entry(f"{life.id}-meal-{i}", life, None, "meal", day, at, food=food, outcome=outcome)
    for i, ago in enumerate(range(DAYS - 20, -1, -life.shed) if life.shed else ()):
        whole = (i + len(life.id)) % 4 != 0
        yield _entry(
            f"{life.id}-shed-{i}",
            *(life, None, "shed", until - timedelta(ago), time(8, 15)),
            outcome="complete" if whole else "incomplete",
            text="" if whole else "Skin stayed on two toes; a damp hide overnight took it off.",
        )
    for i, (ago, kind, text) in enumerate(life.story):
        name, _, detail = kind.partition("-")
        key, day = f"{life.id}-story-{i}", until - timedelta(ago)
        if name == "meal":
            yield _entry(key, life, None, "meal", day, time(19), food=text, outcome=detail)
        elif name == "shed":
            yield _entry(key, life, None, "shed", day, time(8), outcome=detail, text=text)
        elif detail == "enclosure" or name == "equipment":
            yield _entry(key, None, life.enclosure, name, day, time(11, 30), text=text)
        else:
            yield _entry(key, life, None, name, day, time(13, 10), text=text)


def _rests(life: Life, day: date) -> bool:
    if life.rest is None:
        return False
    first, last = life.rest
    return first <= day.month or day.month <= last if first > last else first <= day.month <= last


def _entry(
    key: str,
    life: Life | None,
    enclosure: str | None,
    kind: str,
    day: date,
    at: time,
    value: float | None = None,
    food: str = "",
    outcome: str = "",
    text: str = "",
) -> EntryRecord:
    moment = datetime.combine(day, at, ZONE)
    return EntryRecord(
        *(key, life.enclosure if life is not None else enclosure, None if life is None else life.id, kind),
        moment.isoformat(),
        utc(moment),
        value,
        food,
        outcome,
        text,
    )
