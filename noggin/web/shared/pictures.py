"""Proofs of ways, each under an address that names its content: a page is not held up by rendering them,
and a browser asks for each once."""

from collections import OrderedDict
from collections.abc import Callable, Mapping, Sequence
from threading import Lock

from noggin.services.setups.proofs import SHARED, ProofRecipe, ProofShown

MOST = 1000
"""So many are remembered while the server runs by what they are rendered from; others are worked out from
their set-up again."""


class Pictures:
    """Proofs by the names of their content."""

    def __init__(self) -> None:
        self._lock = Lock()
        self._known: OrderedDict[str, ProofRecipe] = OrderedDict()
        self._now: OrderedDict[int, tuple[int, dict[str, str]]] = OrderedDict()

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

    def now(
        self, number: int, revision: int, draw: Callable[[], Mapping[str, ProofRecipe]]
    ) -> dict[str, str]:
        """The names of a set-up's proofs as it is at a revision, by the keys of its ways; `draw` gives what
        they are rendered from, and is asked once a revision."""
        with self._lock:
            known = self._now.get(number)
        if known is None or known[0] != revision:
            known = revision, {key: self.named(recipe) for key, recipe in draw().items()}
            with self._lock:
                self._now[number] = known
                self._now.move_to_end(number)
                if len(self._now) > MOST:
                    self._now.popitem(last=False)
        return known[1]

    def file(self, recipe: ProofRecipe, shown: ProofShown) -> bytes:
        """A proof as the bytes of a file."""
        return SHARED.file(recipe, shown)

    def board(self, name: str, recipes: Sequence[ProofRecipe]) -> bytes:
        """The proofs of a board as the bytes of one file."""
        return SHARED.board(name, recipes)

    def take_photographs_from(self, copies: Callable[[str], bytes | None]) -> None:
        """Where the places of set-ups are seen on photographs."""
        SHARED.take_photographs_from(copies)

    def let_go(self) -> None:
        """Keep nothing that can be rendered again."""
        SHARED.clear()

    def reading(self, recipe: ProofRecipe, only: str | None) -> list[list[float]]:
        """Tones of a proof in stops from mid-tone, for a grid of places."""
        return SHARED.reading(recipe, only)

    def histogram(self, recipe: ProofRecipe, only: str | None) -> list[float]:
        """How a proof's tones are spread."""
        return SHARED.histogram(recipe, only)
