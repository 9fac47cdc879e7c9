"""The lamp register of the Millrace Reptile Room, made up like the rest of its history."""

from __future__ import annotations

from datetime import date, timedelta

from noonshade.store.database import Transaction
from noonshade.store.installations import InstallationStore, InstalledLampRecord

# Lamps in the order they were hung: id, label, kind, watts, hours before, enclosure and fixture, days
# before the last day.
_HUNG = (
    ("tube-1", "Tube by the race window", "t5-strong-85", 39.0, 0.0, "collared-lizard", "uv-tube", 205),
    ("flood-1", "Flood, burnt out", "halogen-flood", 75.0, 900.0, "collared-lizard", "basking-lamp", 243),
    ("flood-2", "Flood of August", "halogen-flood", 75.0, 0.0, "collared-lizard", "basking-lamp", 96),
    ("tube-2", "Tube of the snake", "t8-mild-45", 15.0, 1400.0, "corn-snake", "uv-tube", 243),
    ("tube-3", "Sluice tube", "t5-strong-85", 39.0, 0.0, "crocodile-lizard", "uv-tube", 120),
    ("tube-4", "Tube of unknown age", "t5-strong-85", 39.0, 6100.0, "hermanns-tortoise", "uv-tube", 243),
    ("tube-5", "Landing tube, first", "t5-strong-55", 24.0, 2200.0, "panther-chameleon", "uv-tube", 243),
    ("tube-6", "Landing tube", "t5-strong-55", 24.0, 0.0, "panther-chameleon", "uv-tube", 62),
    ("tube-7", "Wheel tube", "t5-mild-55", 24.0, 300.0, "whites-tree-frog", "uv-tube", 180),
)
_SPARES = (
    InstalledLampRecord(
        "tube-8", "Spare tube, 85 cm", "t5-strong-85", 39.0, None, 0.0, None, "On the shelf by the door"
    ),
    InstalledLampRecord("flood-3", "Spare flood", "halogen-flood", 75.0, None, 0.0),
)


def seed_lamps(transaction: Transaction, store: InstallationStore, until: date) -> None:
    """Write the lamps and where they hung up to a day."""
    for key, label, lamp, watts, before, enclosure, fixture, ago in sorted(_HUNG, key=lambda h: -h[-1]):
        on = (until - timedelta(days=ago)).isoformat()
        store.installed_lamps.put(transaction, InstalledLampRecord(key, label, lamp, watts, on, before))
        store.install(transaction, key, enclosure, fixture, on, retire=True)
    store.installed_lamps.put(transaction, *_SPARES)
