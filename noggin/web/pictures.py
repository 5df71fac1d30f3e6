"""Proofs of ways, each under an address that names its content: a page is not held up by rendering them,
and a browser asks for each once."""

from collections import OrderedDict
from threading import Lock

from noggin.services.proofs import SHARED, ProofRecipe, ProofShown

MOST = 1000
"""So many are remembered while the server runs by what they are rendered from; others are worked out from
their set-up again."""

FILES_MOST_BYTES = 40_000_000
"""Rendered files that are kept."""


class Pictures:
    """Proofs by the names of their content."""

    def __init__(self) -> None:
        self._lock = Lock()
        self._known: OrderedDict[str, ProofRecipe] = OrderedDict()
        self._files: OrderedDict[tuple[str, ProofShown], bytes] = OrderedDict()
        self._taken = 0
        self._proofs = SHARED

    def named(self, recipe: ProofRecipe) -> str:
        """The name of a proof, which is remembered by it."""
        name = recipe.name
        with self._lock:
            self._known[name] = recipe
            self._known.move_to_end(name)
            if len(self._known) > MOST:
                self._known.popitem(last=False)
        return name

    def get(self, name: str) -> ProofRecipe | None:
        """What a proof of this name is rendered from; None where it is not remembered."""
        with self._lock:
            return self._known.get(name)

    def file(self, recipe: ProofRecipe, shown: ProofShown) -> bytes:
        """A proof as the bytes of a file."""
        key = recipe.name, shown
        with self._lock:
            if key in self._files:
                self._files.move_to_end(key)
                return self._files[key]
        made = self._proofs.file(recipe, shown)
        with self._lock:
            if key not in self._files:
                self._files[key] = made
                self._taken += len(made)
            while self._taken > FILES_MOST_BYTES:
                _, gone = self._files.popitem(last=False)
                self._taken -= len(gone)
        return made

    def reading(self, recipe: ProofRecipe, only: str | None) -> list[list[float]]:
        """Tones of a proof in stops from mid-tone, for a grid of places."""
        return self._proofs.reading(recipe, only)

    def histogram(self, recipe: ProofRecipe, only: str | None) -> list[float]:
        """How a proof's tones are spread."""
        return self._proofs.histogram(recipe, only)
