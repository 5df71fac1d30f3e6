"""Small pictures of ways, each under an address that names its content: a page is not held up by drawing
them, and a browser asks for each once."""

from collections import OrderedDict
from hashlib import sha256
from threading import Lock

from noggin.web.drawings.sketch import Sketch

MOST = 1000
"""So many pictures are remembered while the server runs; others are worked out from their set-up again."""


class Pictures:
    """Pictures by the names of their content."""

    def __init__(self) -> None:
        self._lock = Lock()
        self._known: OrderedDict[str, Sketch] = OrderedDict()

    def named(self, sketch: Sketch) -> str:
        """The name of a picture, which is remembered by it."""
        name = sha256(repr(sketch).encode()).hexdigest()[:16]
        with self._lock:
            self._known[name] = sketch
            self._known.move_to_end(name)
            if len(self._known) > MOST:
                self._known.popitem(last=False)
        return name

    def get(self, name: str) -> Sketch | None:
        """The picture of a name; None where it is not remembered."""
        with self._lock:
            return self._known.get(name)
