"""Where long computations can be ended: they pass checkpoints, where a stop takes effect.

An exception in the middle of compiled code would leave that in disorder, so a stop waits for the next
checkpoint.
"""

from __future__ import annotations


class Stopped(BaseException):
    """The computation was asked to end. Not an Exception, so that nothing on the way takes it for one."""


_is_stop_wanted = False


def request_stop() -> None:
    """Have the computation of this process end at its next checkpoint; safe in a signal handler."""
    global _is_stop_wanted
    _is_stop_wanted = True


def clear_stop() -> None:
    """Forget a stop that was asked for, before another computation begins."""
    global _is_stop_wanted
    _is_stop_wanted = False


def checkpoint() -> None:
    """Go on, unless a stop was asked for.

    Raises
    ------
    Stopped
        If it was.
    """
    if _is_stop_wanted:
        raise Stopped
