"""What is kept while it is used again and again, within a bound of bytes."""

from collections import OrderedDict
from collections.abc import Callable, Hashable, Iterable, Mapping
from typing import Generic, TypeVar

import numpy as np

Kept = TypeVar("Kept")


class Shelf(Generic[Kept]):
    """Values by their keys, the longest unused thrown away first while all take more than `most` bytes;
    the one used last stays. What they take is asked of `size` each time, for values grow while they are
    used."""

    def __init__(self, most: float, size: Callable[[Iterable[Kept]], float]) -> None:
        self._most, self._size = most, size
        self._kept: OrderedDict[Hashable, Kept] = OrderedDict()

    @property
    def bytes_kept(self) -> float:
        """Bytes that all values take together."""
        return self._size(self._kept.values())

    def get(self, key: Hashable, make: Callable[[], Kept]) -> Kept:
        """What is kept under a key, made where nothing is."""
        if key not in self._kept:
            self._kept[key] = make()
        self._kept.move_to_end(key)
        return self._kept[key]

    def trim(self) -> None:
        """Throw away what is too much."""
        while len(self._kept) > 1 and self.bytes_kept > self._most:
            self._kept.popitem(last=False)

    def clear(self) -> None:
        """Throw everything away."""
        self._kept.clear()


def array_bytes(values: Iterable[object]) -> float:
    """Bytes of all arrays that values hold, in their attributes, lists and tables, each counted once."""
    found: dict[int, int] = {}
    seen: set[int] = set()
    waiting = list(values)
    while waiting:
        value = waiting.pop()
        if isinstance(value, np.ndarray):
            whole = value if value.base is None else value.base
            found[id(whole)] = getattr(whole, "nbytes", value.nbytes)
        elif id(value) not in seen:
            seen.add(id(value))
            if isinstance(value, Mapping):
                waiting += value.values()
            elif isinstance(value, list | tuple):
                waiting += value
            elif hasattr(value, "__dict__") and not isinstance(value, type) and not callable(value):
                waiting += vars(value).values()
    return float(sum(found.values()))
