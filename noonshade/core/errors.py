"""Errors of the model. Each names the thing that is wrong and what is allowed."""

from __future__ import annotations


class PlanError(ValueError):
    """A plan that cannot be built.

    Parameters
    ----------
    path : str
        JSON Pointer of the offending value in the plan document, e.g. ``/fixtures/0/power_w``.
    message : str
        What is wrong and what is allowed, in one sentence.
    """

    def __init__(self, path: str, message: str) -> None:
        super().__init__(f"{path}: {message}" if path else message)
        self.path = path
        self.message = message

    def __reduce__(self) -> tuple[type[PlanError], tuple[str, str]]:
        # Without this, one from another process could not be made again.
        return type(self), (self.path, self.message)


class ConvergenceError(RuntimeError):
    """The heat model found no steady state; the message says how far it got."""


class DesignError(RuntimeError):
    """No set-up could be computed at all; the message says for what."""
