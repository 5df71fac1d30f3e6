"""Which window made which change: so that a window is told of others' changes and never of its own."""

from collections import OrderedDict
from collections.abc import Mapping
from threading import Lock

SETUPS_MOST = 500
CHANGES_MOST = 50
"""So many set-ups, and changes of each, are remembered while the server runs."""


class Windows:
    """The windows that made the last changes of each set-up, by the revision that each change made."""

    def __init__(self) -> None:
        self._lock = Lock()
        self._writers: OrderedDict[int, OrderedDict[int, str]] = OrderedDict()

    def wrote(self, setup_id: int, revision: int, window: str) -> None:
        """A window was answered with a revision; if nobody was before, the change was its own."""
        with self._lock:
            writers = self._writers.setdefault(setup_id, OrderedDict())
            writers.setdefault(revision, window)
            self._writers.move_to_end(setup_id)
            if len(writers) > CHANGES_MOST:
                writers.popitem(last=False)
            if len(self._writers) > SETUPS_MOST:
                self._writers.popitem(last=False)

    def others_wrote(self, setup_id: int, seen: int, revision: int, window: str) -> bool:
        """Whether any change since the revision that a window has seen, up to the one it is answered with,
        was made elsewhere: by another window, or by who is not known."""
        with self._lock:
            writers: Mapping[int, str] = self._writers.get(setup_id, {})
            made_since = range(max(seen, revision - CHANGES_MOST) + 1, revision + 1)
            return any(writers.get(made) != window for made in made_since)
