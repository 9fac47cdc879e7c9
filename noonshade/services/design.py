"""Designs: jobs that run beside the web's threads, show how far they are and can be stopped."""

from __future__ import annotations

import threading
import time
import uuid
from dataclasses import dataclass, field

from noonshade.core.design.brief import Brief
from noonshade.core.design.designer import Design, Progress, design
from noonshade.core.errors import ConvergenceError, DesignError, PlanError
from noonshade.core.plan import Plan
from noonshade.services.library import Library
from noonshade.services.workers import Workers

# Designs that run at a time, and those that are remembered for who asked for them.
MOST_RUNNING, MOST_KEPT = 1, 12
# A job nobody has asked after for so long is ended, s.
FORGOTTEN_S = 45.0


@dataclass
class DesignJob:
    """One design that was asked for; ``result`` or ``error`` once it has ended."""

    id: str
    brief: Brief
    begun: float
    asked: float
    progress: Progress | None = None
    result: Design | None = None
    error: str = ""
    error_path: str = ""
    ended: float | None = None
    stopping: bool = False
    done: threading.Event = field(default_factory=threading.Event)

    @property
    def seconds(self) -> float:
        """How long it ran, or has run."""
        return (self.ended or time.monotonic()) - self.begun

    @property
    def best(self) -> Plan | None:
        """The best plan so far."""
        return None if self.progress is None else self.progress.best


class TooManyDesigns(RuntimeError):
    """More designs are running than the machine can take."""


class DesignService:
    """Starts designs, shows their progress, stops them."""

    def __init__(self, library: Library, workers: Workers) -> None:
        self.library = library
        self.workers = workers
        self._lock = threading.Lock()
        self._jobs: dict[str, DesignJob] = {}

    def start(self, brief: Brief) -> DesignJob:
        """Begin a design in a new thread; TooManyDesigns when as many run as may."""
        now = time.monotonic()
        job = DesignJob(uuid.uuid4().hex, brief, now, now)
        with self._lock:
            running = [j for j in self._jobs.values() if not j.done.is_set()]
            for one in running:
                if now - one.asked > FORGOTTEN_S:
                    one.stopping = True
            if sum(not j.stopping for j in running) >= MOST_RUNNING:
                raise TooManyDesigns
            ended = [j.id for j in self._jobs.values() if j.done.is_set()]
            for old in ended[: max(0, len(ended) - MOST_KEPT + 1)]:
                del self._jobs[old]
            self._jobs[job.id] = job
        threading.Thread(target=self._run, args=(job,), name=f"design-{job.id}", daemon=True).start()
        return job

    def job(self, job_id: str) -> DesignJob | None:
        """A job by its id; None if there is none, or no longer."""
        with self._lock:
            found = self._jobs.get(job_id)
        if found is not None:
            found.asked = time.monotonic()
        return found

    def stop(self, job_id: str) -> DesignJob | None:
        """Ask a job to end with the best it has; None if there is none."""
        found = self.job(job_id)
        if found is not None:
            found.stopping = True
        return found

    def _run(self, job: DesignJob) -> None:
        def report(progress: Progress) -> bool:
            job.progress = progress
            return not job.stopping and time.monotonic() - job.asked < FORGOTTEN_S

        try:
            job.result = design(job.brief, self.library.stock(), self.workers.map, report)
        except PlanError as error:
            job.error, job.error_path = error.message, error.path
        except (DesignError, ConvergenceError) as error:
            job.error = str(error)
        finally:
            if job.result is None and not job.error:
                job.error = "the design ended unexpectedly; try again"
            job.ended = time.monotonic()
            job.done.set()
