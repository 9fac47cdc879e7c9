"""A thread-safe LRU cache; concurrent callers for one key share a single computation."""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable
from typing import Generic, TypeVar

K = TypeVar("K", bound=Hashable)
V = TypeVar("V")


class SingleFlightCache(Generic[K, V]):
    """The most recently used ``capacity`` values by key."""

    def __init__(self, capacity: int) -> None:
        self.capacity = capacity
        self._lock = threading.Lock()
        self._values: OrderedDict[K, V] = OrderedDict()
        self._in_flight: dict[K, threading.Lock] = {}

    def get_or_compute(self, key: K, compute: Callable[[], V]) -> V:
        """The value of a key, computed by the first caller while others wait; errors are not cached."""
        with self._lock:
            if key in self._values:
                self._values.move_to_end(key)
                return self._values[key]
            in_flight = self._in_flight.setdefault(key, threading.Lock())
        with in_flight:
            with self._lock:
                if key in self._values:
                    return self._values[key]
            try:
                value = compute()
            finally:
                with self._lock:
                    self._in_flight.pop(key, None)
            with self._lock:
                self._values[key] = value
                while len(self._values) > self.capacity:
                    self._values.popitem(last=False)
        return value

    def clear(self) -> None:
        """Drop every value, after what they were computed from was replaced."""
        with self._lock:
            self._values.clear()
