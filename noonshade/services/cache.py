"""What was worked out lately is remembered, and worked out once by however many ask for it."""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable
from typing import Generic, TypeVar

K = TypeVar("K", bound=Hashable)
V = TypeVar("V")


class SingleFlightCache(Generic[K, V]):
    """The values that were asked for last, by key, at most ``most`` of them; threads may share it.

    Whoever asks for a value that is just being worked out waits for it: the parts of a screen ask for the
    same plan at once.
    """

    def __init__(self, most: int) -> None:
        self.most = most
        self._lock = threading.Lock()
        self._known: OrderedDict[K, V] = OrderedDict()
        self._making: dict[K, threading.Lock] = {}

    def of(self, key: K, make: Callable[[], V]) -> V:
        """The value of a key, made if it is not remembered; what ``make`` raises is passed on, not kept."""
        with self._lock:
            if key in self._known:
                self._known.move_to_end(key)
                return self._known[key]
            making = self._making.setdefault(key, threading.Lock())
        with making:
            with self._lock:
                if key in self._known:
                    return self._known[key]
            try:
                made = make()
            finally:
                with self._lock:
                    self._making.pop(key, None)
            with self._lock:
                self._known[key] = made
                while len(self._known) > self.most:
                    self._known.popitem(last=False)
        return made

    def forget(self) -> None:
        """Forget all of it, after what it was made from was replaced."""
        with self._lock:
            self._known.clear()
