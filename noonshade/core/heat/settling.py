"""Fixed points of a heat balance: films and flows depend on the temperatures they lead to."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from noonshade.core.errors import ConvergenceError

Floats = NDArray[np.float64]

# The most a guess may go by what the last round's movement tells of this one, as a multiple of it: more is
# an extrapolation from differences too small to trust.
_MOST_WEIGHT = 3.0
# The step is taken in full, or less of it where rounds go back and forth.
_LEAST_SHARE = 0.1


class Mixer:
    """Guesses of a fixed point x = f(x), by Anderson's mixing of the last two rounds, with a safeguard.

    A plain round may go back and forth for ever where a flow appears and disappears. The next guess is
    that mixture of the last two rounds whose movements cancel best (more of them settle worse: flows that
    come and go make older movements mislead); where rounds do not come closer, a smaller share of the step
    is taken.

    References
    ----------
    .. [1] Walker & Ni (2011), Anderson acceleration for fixed-point iterations, SIAM J. Num. Anal. 49:1715.
    """

    def __init__(self) -> None:
        self._last: tuple[Floats, Floats] | None = None
        self._best = np.inf
        self._share = 1.0
        self._waiting = 0

    def next_guess(self, guess: Floats, answer: Floats) -> Floats:
        """The next guess after ``answer`` = f(``guess``).

        Parameters
        ----------
        guess : (n,) float64
            What the round began with.
        answer : (n,) float64
            What it led to.

        Returns
        -------
        (n,) float64
            What to begin the next round with.
        """
        step = answer - guess
        size = float(np.max(np.abs(step)))
        last, self._last = self._last, (guess, step)
        if size < 0.9 * self._best:
            self._best, self._waiting = size, 0
        else:
            self._waiting += 1
            if self._waiting >= 4:
                self._share = max(_LEAST_SHARE, 0.6 * self._share)
                self._waiting, last = 0, None
        forward: Floats = guess + self._share * step
        if last is None:
            return forward
        changed = step - last[1]
        weight = float(changed @ step) / max(float(changed @ changed), 1e-300)
        if abs(weight) > _MOST_WEIGHT:
            return forward
        mixed: Floats = forward - weight * (guess - last[0] + self._share * changed)
        return mixed


def settle(
    advance: Callable[[Floats], Floats], start: Floats, converged: float, most: int, tolerated: float = 0.0
) -> tuple[Floats, int]:
    """Repeat a round until it moves nothing by more than a tolerance.

    Parameters
    ----------
    advance : callable
        A round: from a guess (n,) to the answer (n,) it leads to.
    start : (n,) float64
        The first guess.
    converged : float
        Largest movement of a round that counts as settled.
    most : int
        Rounds at most.
    tolerated : float
        Movement of the last round that is let pass, where a flow appears and disappears for ever.

    Returns
    -------
    tuple of (n,) float64 and int
        The answer of the last round, and the number of rounds.

    Raises
    ------
    ConvergenceError
        If it still moves after the last round.
    """
    mixer = Mixer()
    guess = answer = start
    moved = np.inf
    for number in range(1, most + 1):
        answer = advance(guess)
        moved = float(np.max(np.abs(answer - guess)))
        if moved < converged:
            return answer, number
        guess = mixer.next_guess(guess, answer)
    if moved < tolerated:
        return answer, most
    raise ConvergenceError(
        f"the heat balance did not settle in {most} rounds (still moving by {moved:.2g} K)"
    )
