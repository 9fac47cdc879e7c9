"""Errors of the model. Each names the thing that is wrong and what is allowed."""


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


class ConvergenceError(RuntimeError):
    """The heat model found no steady state; the message says how far it got."""


class DesignError(RuntimeError):
    """No set-up could be computed at all; the message says for what."""
