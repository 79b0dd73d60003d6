"""What a process keeps at hand: the things used last, within a weight."""

from collections import OrderedDict
from collections.abc import Hashable
from threading import Lock
from typing import Generic, TypeVar

K = TypeVar("K", bound=Hashable)
V = TypeVar("V")


class Memory(Generic[K, V]):
    """Values by key, up to a total weight; what was not asked for the longest is forgotten first.
    Several threads may use one."""

    def __init__(self, most: float) -> None:
        self._most, self._weight = most, 0.0
        self._kept: OrderedDict[K, tuple[V, float]] = OrderedDict()
        self._lock = Lock()

    def get(self, key: K) -> V | None:
        """What is kept under this key, if it is."""
        with self._lock:
            found = self._kept.get(key)
            if found is None:
                return None
            self._kept.move_to_end(key)
            return found[0]

    def put(self, key: K, value: V, weight: float = 1) -> V:
        """Keep a value, unless it alone weighs more than all may."""
        with self._lock:
            self._forget(key)
            if weight <= self._most:
                self._kept[key] = (value, weight)
                self._weight += weight
                while self._weight > self._most:
                    self._forget(next(iter(self._kept)))
        return value

    def forget(self, key: K) -> None:
        """Keep nothing under this key."""
        with self._lock:
            self._forget(key)

    def _forget(self, key: K) -> None:
        self._weight -= self._kept.pop(key, (None, 0.0))[1]
