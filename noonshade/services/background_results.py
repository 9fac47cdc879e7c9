"""Computes the results that are missing while nobody waits for them, and stores each."""

from __future__ import annotations

import logging
import threading
from collections.abc import Callable

from noonshade.services.results import Computation, ResultService
from noonshade.services.workers import CancelledError, WorkersError
from noonshade.store.database import StoreError
from noonshade.store.errors import NotFoundError
from noonshade.store.results import RESULT_KINDS, StoredResult

log = logging.getLogger(__name__)

# Computes a result, and gives up once the function says that it is not wanted any more.
Compute = Callable[[Computation, Callable[[], bool]], StoredResult]
# How long until it is tried again where the data file could not be read, s.
AGAIN_S = 5.0


class BackgroundResults:
    """Threads that compute what is missing, after a start and after every change of the data.

    Parameters
    ----------
    results : ResultService
        Knows what is missing and stores what was computed.
    compute : callable
        Computes one result, elsewhere or here; it is cancelled by a ``CancelledError``.
    at_a_time : int
        How many are computed at a time.
    """

    def __init__(self, results: ResultService, compute: Compute, at_a_time: int = 1) -> None:
        self.results, self._compute = results, compute
        self._lock = threading.Condition()
        self._wanted: list[Computation] = []
        self._running: set[Computation] = set()
        self._is_stale, self._is_closing = True, False
        self._threads = [
            threading.Thread(target=self._run, name=f"results-{n}", daemon=True) for n in range(at_a_time)
        ]

    def start(self) -> None:
        """Begin, and follow every change of the data from now on."""
        self.results.store.database.on_change.append(self.wake)
        for thread in self._threads:
            thread.start()

    def wake(self) -> None:
        """The data have changed; the results stored here are no such change."""
        if threading.current_thread() not in self._threads:
            with self._lock:
                self._is_stale = True
                self._lock.notify_all()

    def close(self) -> None:
        """End; what is being computed is given up."""
        with self._lock:
            self._is_closing = True
            self._lock.notify_all()
        for thread in self._threads:
            thread.join(5.0)

    def _order(self, wanted: Computation) -> tuple[int, bool]:
        return RESULT_KINDS.index(wanted.kind), wanted.plan_id not in self.results.shown

    def _run(self) -> None:
        while (wanted := self._next()) is not None:
            try:
                self._do(wanted)
            except NotFoundError:
                pass
            except StoreError as error:
                log.warning("results cannot be stored: %s", error)
            except Exception:
                # This thread must go on whatever one plan comes to; the log says where it happened.
                log.exception("a result of %s cannot be computed", wanted.plan_id)
                self._give_up(wanted, "it cannot be computed; the program's log says why")
            finally:
                with self._lock:
                    self._running.discard(wanted)

    def _do(self, wanted: Computation) -> None:
        try:
            result = self._compute(wanted, lambda: not self._is_wanted(wanted))
        except CancelledError:
            return
        except WorkersError as error:
            log.warning("a result of %s cannot be computed: %s", wanted.plan_id, error)
            self._give_up(wanted, str(error))
            return
        self.results.put(result)

    def _give_up(self, wanted: Computation, why: str) -> None:
        try:
            self.results.hold_failure(wanted, why)
        except (NotFoundError, StoreError) as error:
            log.info("nothing is held of %s: %s", wanted.plan_id, error)

    def _next(self) -> Computation | None:
        """What to compute now, waiting for it; None at the end."""
        with self._lock:
            while not self._is_closing:
                self._refresh()
                if self._wanted:
                    wanted = min(self._wanted, key=self._order)
                    self._wanted.remove(wanted)
                    self._running.add(wanted)
                    return wanted
                # Asked again after a while only where the data could not be read.
                self._lock.wait(AGAIN_S if self._is_stale else None)
            return None

    def _is_wanted(self, wanted: Computation) -> bool:
        with self._lock:
            self._refresh()
            return wanted in self._running and not self._is_closing

    def _refresh(self) -> None:
        """Find out what is missing, if the data have changed since."""
        if not self._is_stale:
            return
        try:
            missing = self.results.now().missing()
        except StoreError as error:
            log.warning("the results cannot be read: %s", error)
            return
        self._is_stale = False
        # What is computed for an older revision is given up.
        self._running &= set(missing)
        self._wanted = [m for m in missing if m not in self._running]
        if len(self._wanted) > 1:
            self._lock.notify_all()
