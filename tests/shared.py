"""What applications of one test process share: nothing is computed, or stored, twice."""

from __future__ import annotations

import atexit
import shutil
import socket
import tempfile
import threading
from functools import cache
from pathlib import Path

from noonshade.cli.guarded import make_server
from noonshade.cli.serving import serve_until
from noonshade.demo import seed
from noonshade.services.cache import SingleFlightCache
from noonshade.services.evaluation import ResultCaches
from noonshade.store.database import Database
from noonshade.store.plans import PlanStore
from noonshade.web.app import NoonShade
from noonshade.web.http.admission import admits_to, largest_body, refuse_too_large

# As in the program, with room for more.
CACHES = ResultCaches(
    evaluations=SingleFlightCache(40),
    days=SingleFlightCache(20),
    sensitivities=SingleFlightCache(10),
    intervals=SingleFlightCache(30),
    fixes=SingleFlightCache(100),
)


# A property of a test's report that the end of the run prints.
MEASURED = "measured"


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


class Running:
    """The real server of an application in a thread, on a free port of this machine."""

    def __init__(self, app: NoonShade) -> None:
        listener = socket.create_server(("127.0.0.1", 0))
        self.port: int = listener.getsockname()[1]
        self._server = make_server(app, listener, admits_to(app), largest_body, refuse_too_large)
        self._stopped = threading.Event()
        given = (self._server, self._stopped, self._stopped)
        self._thread = threading.Thread(target=serve_until, args=given, daemon=True)
        self._thread.start()

    def close(self) -> None:
        """Answer no more."""
        self._server.trigger.pull_trigger(self._stopped.set)
        self._thread.join(10)
        assert not self._thread.is_alive()
