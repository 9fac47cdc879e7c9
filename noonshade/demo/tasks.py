"""Tasks of the Millrace Reptile Room and how they went, made up like the rest of its history."""

from __future__ import annotations

import random
from collections.abc import Callable, Iterator, Mapping
from datetime import date, timedelta

from noonshade.core.care.recurrence import Mark, Rule, days_of, every, task_status
from noonshade.store.database import Transaction
from noonshade.store.tasks import MarkRecord, TaskRecord, TaskStore

# What the room does, by enclosure: key, kind, title, rule, whether counted from when it was done, how its
# days begin.
_Task = tuple[str, str, str, str, bool]
_DAILY: tuple[_Task, ...] = (("water", "water", "Fresh water in a clean dish", every(1, "day"), False),)
_TASKS: dict[str | None, tuple[_Task, ...]] = {
    "collared-lizard": (
        *_DAILY,
        ("feed", "feeding", "Feed insects", every(3, "day"), False),
        ("d3", "dusting", "Calcium with vitamin D₃ on one meal", every(4, "week"), False),
        ("weighing", "weighing", "Weigh", every(2, "week"), False),
        ("full-clean", "full_clean", "Full clean and disinfect", every(2, "month"), True),
        ("thermostat", "thermostat", "Test the thermostat: does it switch off?", every(1, "month"), False),
        ("readings", "readings", "Take a round of readings", every(3, "month"), True),
    ),
    "corn-snake": (
        *_DAILY,
        ("feed", "feeding", "Feed", every(10, "day"), False),
        ("weighing", "weighing", "Weigh", every(4, "week"), False),
        ("thermostat", "thermostat", "Test the thermostat: does it switch off?", every(1, "month"), False),
    ),
    "crocodile-lizard": (
        ("pool", "water", "Change a third of the pool", every(1, "week"), False),
        ("feed", "feeding", "Feed", every(3, "day"), False),
        ("weighing", "weighing", "Weigh", every(2, "week"), False),
    ),
    "gargoyle-gecko": (
        ("mix", "feeding", "Fruit mix", every(2, "day"), False),
        ("misting", "misting", "Mist, 19:00", every(1, "day"), False),
        ("weighing", "weighing", "Weigh", every(2, "week"), False),
    ),
    "giant-vinegaroon": (
        ("feed", "feeding", "Feed", every(7, "day"), False),
        ("weighing", "weighing", "Weigh", every(4, "week"), False),
        ("substrate", "substrate", "Loosen and top up the ground", every(1, "month"), True),
    ),
    "hermanns-tortoise": (
        *_DAILY,
        ("greens", "feeding", "Greens", every(1, "day"), False),
        ("weighing", "weighing", "Weigh", every(4, "week"), False),
    ),
    "panther-chameleon": (
        ("feed", "feeding", "Feed insects", every(3, "day"), False),
        ("misting", "misting", "Mist, 08:00, 18:00", every(1, "day"), False),
        ("vitamins", "dusting", "Multivitamin on one meal", every(2, "week"), False),
        ("weighing", "weighing", "Weigh", every(2, "week"), False),
    ),
    "whites-tree-frog": (
        *_DAILY,
        ("feed", "feeding", "Feed insects", every(3, "day"), False),
        ("weighing", "weighing", "Weigh", every(3, "week"), False),
        ("spot-clean", "spot_clean", "Spot clean", every(1, "day"), False),
    ),
    None: (
        ("smoke-alarm", "smoke_alarm", "Press the smoke alarm's test button", every(1, "month"), False),
        (
            "residual-current",
            "residual_current",
            "Press the residual-current device's test button",
            every(6, "month"),
            False,
        ),
    ),
}
# How often a day was skipped, or marked as skipped.
_FORGOTTEN, _SKIPPED = 0.04, 0.03
_REASONS = {"feeding": ("before a shed", "just shed", "no time"), "weighing": ("just fed", "no time")}
_USUAL_REASONS = ("not needed today", "no time")

Resting = Callable[[date], bool]
# The days on which a kind of task of an enclosure was done.
Done = dict[tuple[str | None, str], list[date]]


def seed_tasks(
    transaction: Transaction,
    store: TaskStore,
    begin: date,
    until: date,
    chance: random.Random,
    resting: Mapping[str | None, Resting],
) -> Done:
    """Write the tasks and what was done of them up to the day before the last; returns what was done when.

    ``resting`` says of an enclosure whether its animal is in its winter rest on a day.
    """
    tasks, marks, done = [], [], Done()
    for enclosure, listed in _TASKS.items():
        for i, (key, kind, title, rule, after_done) in enumerate(listed):
            task = TaskRecord(
                *(f"{enclosure or 'room'}.{key}", enclosure, None, kind, title, ""),
                *(rule, (begin + timedelta(i * 2)).isoformat(), int(after_done), None, f"usual:{key}"),
            )
            tasks.append(task)
            went = list(_went(task, until, chance, resting.get(enclosure)))
            marks += went
            days = (date.fromisoformat(m.done_on) for m in went if m.kind == "done")
            done.setdefault((enclosure, kind), []).extend(days)
    store.tasks.put(transaction, *tasks)
    store.mark(transaction, *marks)
    return done


def _went(
    task: TaskRecord, until: date, chance: random.Random, resting: Resting | None
) -> Iterator[MarkRecord]:
    rule = Rule(task.rule, date.fromisoformat(task.starts_on), bool(task.after_done))
    yesterday = until - timedelta(days=1)
    if rule.after_done:
        marks: list[Mark] = []
        while (due := task_status(rule, marks, yesterday)).state in ("due", "overdue") and due.due_on:
            # Done some days after it was due; the last one still waits.
            first = due.due_on
            done = first + timedelta(days=chance.randrange(0, 9))
            if done > yesterday:
                return
            marks.append(Mark(first, "done", done))
            yield MarkRecord(task.id, first.isoformat(), "done", done.isoformat())
        return
    for day in days_of(rule, rule.starts_on, yesterday):
        luck = chance.random()
        if luck < _FORGOTTEN:
            continue
        rests = resting is not None and task.kind in ("feeding", "dusting") and resting(day)
        skipped = rests or luck < _FORGOTTEN + _SKIPPED
        reason = "in its rest" if rests else chance.choice(_REASONS.get(task.kind, _USUAL_REASONS))
        if not skipped:
            reason = ""
        yield MarkRecord(
            task.id, day.isoformat(), "skipped" if skipped else "done", day.isoformat(), reason
        )
