"""Readings of the Millrace Reptile Room, made up like the rest of its history."""

from __future__ import annotations

from datetime import date, datetime, time, timedelta
from zoneinfo import ZoneInfo

from noonshade.core.readings.instrument import Kind
from noonshade.store.database import Transaction
from noonshade.store.readings import ReadingRecord, ReadingStore

ZONE = ZoneInfo("Europe/London")
_At = tuple[float, float, float] | None
# Days before the last, enclosure and the enclosure's revision then; then what was read where.
_ROUNDS: tuple[tuple[int, str, int, tuple[tuple[Kind, float, _At, str], ...]], ...] = (
    (
        228,
        "panther-chameleon",
        1,
        (
            ("uvi_facing", 2.1, (0.3, 0.3, 0.93), "Basking spot"),
            ("air", 26.4, (0.3, 0.3, 0.93), "Basking spot"),
            ("room_air", 20.4, None, "the room"),
        ),
    ),
    (
        55,
        "panther-chameleon",
        2,
        (
            ("uvi_facing", 3.3, (0.3, 0.3, 0.93), "Basking spot"),
            ("humidity", 0.52, (0.3, 0.3, 0.4), "Middle of the cage"),
            ("room_air", 19.8, None, "the room"),
        ),
    ),
    (
        8,
        "hermanns-tortoise",
        2,
        (
            ("uvi_facing", 1.6, (0.45, 0.3, 0.2), "Basking spot"),
            ("surface", 41.5, (0.45, 0.3, 0.13), "Basking spot"),
            ("room_air", 18.9, None, "the room"),
        ),
    ),
)


def seed_readings(transaction: Transaction, store: ReadingStore, until: date) -> None:
    """Write what was read up to a day."""
    for ago, enclosure, revision, listed in _ROUNDS:
        moment = datetime.combine(until - timedelta(days=ago), time(13, 30), ZONE)
        store.put(
            transaction,
            [
                ReadingRecord(
                    id=f"demo-{enclosure}-{ago}-{i}",
                    plan_id=enclosure,
                    round_id=None,
                    task=None,
                    revision=revision,
                    kind=kind,
                    value=value,
                    x_m=None if at is None else at[0],
                    y_m=None if at is None else at[1],
                    z_m=None if at is None else at[2],
                    place=place,
                    taken_at=(moment + timedelta(minutes=4 * i)).isoformat(),
                    instrument_id=None,
                    source="hand",
                    note="",
                    excluded=False,
                )
                for i, (kind, value, at, place) in enumerate(listed)
            ],
        )
