"""A program that is killed while it stores: what it acknowledged is there, and the file is whole."""

from __future__ import annotations

import os
import random
import signal
import sqlite3
import subprocess
import sys
import time
from contextlib import closing
from pathlib import Path

from noonshade.store.database import Database
from noonshade.store.plans import PlanStore
from tests.shared import seeded

# ``make kill`` takes 200.
CYCLES = int(os.environ.get("NOONSHADE_KILLS", "10"))
PLAN = "collared-lizard"
# Saves one revision after another, and says of each that it is stored.
SAVING = """
import sys
from pathlib import Path
from noonshade.store.database import Database
from noonshade.store.plans import PlanStore

database = Database.open(Path(sys.argv[1]))
plans = PlanStore(database)
while True:
    head = plans.get("collared-lizard")
    # Another document each time: an equal one is not stored again.
    document = head.document.replace(head.name, f"Save {head.revision}")
    saved = database.write(
        plans.save, "collared-lizard", head.revision, f"Save {head.revision}", document, "Saved"
    )
    print(saved.revision, flush=True)
"""


def test_no_acknowledged_save_is_lost_when_the_program_is_killed(tmp_path: Path) -> None:
    data_file = seeded(tmp_path / "d.db")
    chance = random.Random(20261201)
    stored = PlanStore(Database.open(data_file)).get(PLAN).revision
    for _ in range(CYCLES):
        command = [sys.executable, "-c", SAVING, str(data_file)]
        with subprocess.Popen(command, stdout=subprocess.PIPE, text=True) as saving:
            assert saving.stdout is not None
            acknowledged = [int(saving.stdout.readline())]
            time.sleep(chance.uniform(0.0, 0.12))
            saving.send_signal(signal.SIGKILL)
            # The last line may have been cut off.
            acknowledged += [
                int(line) for line in saving.stdout.read().splitlines(keepends=True) if "\n" in line
            ]
        assert acknowledged[0] > stored
        with closing(sqlite3.connect(data_file)) as connection:
            assert connection.execute("PRAGMA integrity_check").fetchone() == ("ok",)
        found = PlanStore(Database.open(data_file)).get(PLAN).revision
        # One more may have been stored before it could be said.
        assert acknowledged[-1] <= found <= acknowledged[-1] + 1
        stored = found
    assert stored > CYCLES
