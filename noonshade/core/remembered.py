"""What is computed again and again from the same parts of a plan, remembered while those parts are."""

from __future__ import annotations

from collections.abc import Callable, Hashable
from typing import Generic, TypeVar

_T = TypeVar("_T")


class Remembered(Generic[_T]):
    """The latest answers of a computation, by the parts of a plan they were made from.

    Parts of a plan never change, and plans made from another share those that stay the same, which tells
    quickest that they are; others may be equal. They hold mappings, so they have no hash.

    Enough are remembered for about eight enclosures that are changed in turn, as one process may see them.

    Parameters
    ----------
    kept : int
        How many answers stay.
    """

    def __init__(self, kept: int = 8) -> None:
        self._kept = kept
        self._answers: list[tuple[tuple[object, ...], Hashable, _T]] = []

    def get(self, parts: tuple[object, ...], values: Hashable, make: Callable[[], _T]) -> _T:
        """The answer for some objects and values, made if it is not remembered.

        Parameters
        ----------
        parts : tuple of object
            What it is made from: the same objects, or equal ones.
        values : hashable
            What else it depends on, compared by value.
        make : callable
            Computes it.

        Returns
        -------
        object
            The answer; callers must not change it.
        """
        answers = self._answers
        for held, of, answer in answers:
            if of == values and all(a is b or a == b for a, b in zip(held, parts, strict=True)):
                return answer
        made = make()
        self._answers = [(parts, values, made), *answers[: self._kept - 1]]
        return made
