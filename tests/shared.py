"""What applications of one test process share: nothing is computed, or stored, twice."""

from __future__ import annotations

import atexit
import shutil
import tempfile
from functools import cache
from pathlib import Path

from noonshade.demo import seed
from noonshade.services.cache import SingleFlightCache
from noonshade.services.evaluation import ResultCaches
from noonshade.store.database import Database
from noonshade.store.plans import PlanStore

# As in the program, with room for more.
CACHES = ResultCaches(
    evaluations=SingleFlightCache(40),
    days=SingleFlightCache(20),
    sensitivities=SingleFlightCache(10),
    intervals=SingleFlightCache(30),
    fixes=SingleFlightCache(100),
)


def seeded(path: Path) -> Path:
    """Make a data file that holds the demo plans, unless there is one already."""
    if not path.exists():
        path.parent.mkdir(parents=True, exist_ok=True)
        shutil.copyfile(_once_seeded(), path)
    return path


@cache
def _once_seeded() -> Path:
    folder = Path(tempfile.mkdtemp(prefix="noonshade-tests-"))
    atexit.register(shutil.rmtree, folder, ignore_errors=True)
    seed(PlanStore(Database.open(folder / "noonshade.db")))
    return folder / "noonshade.db"
