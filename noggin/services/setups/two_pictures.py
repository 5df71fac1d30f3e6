"""Two pictures of one set-up beside each other: two methods, two looks, or a method as it is and as it was
pinned."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

from noggin.core.planning.plan import plan
from noggin.core.planning.way import Plan, Way
from noggin.core.pops.frame import Meant
from noggin.core.setup.setup import SetUp
from noggin.services.setups.proofs import ProofRecipe, recipe_of
from noggin.services.setups.setups import OpenSetUp

PINNED = "pinned"
"""Stands before the key of a method as it was pinned."""

LOOK = "look"
"""Stands before the number of a look."""


@dataclass(frozen=True)
class PictureChoice:
    """A picture that can be looked at beside another: its key, what it is called, and what it shows."""

    key: str
    label: str
    setup: SetUp
    way: Way

    @cached_property
    def recipe(self) -> ProofRecipe:
        """What it is computed from."""
        return recipe_of(self.setup, self.way)


def pictures_of(opened: OpenSetUp, looks: Sequence[Meant] = ()) -> Mapping[str, PictureChoice]:
    """Every picture of a set-up that can be chosen, by its key: the methods, best first, then `looks` that
    are taken of it, each by the method that is best for it, then those of the pinned version."""
    found = [*_of_plan(opened.plan, "", "")]
    for number, look in enumerate(looks, start=1):
        planned = plan(look.of(opened.setup))
        label = f"Look ‘{look.look}’: {planned.shown.label}"
        found.append(PictureChoice(f"{LOOK}-{number}", label, planned.setup, planned.shown))
    if opened.pinned:
        found += _of_plan(opened.pinned, f"{PINNED}-", ", as pinned")
    return {choice.key: choice for choice in found}


def _of_plan(planned: Plan, before: str, after: str) -> list[PictureChoice]:
    ways, setup = planned.ways, planned.setup
    return [PictureChoice(f"{before}{way.key}", f"{way.label}{after}", setup, way) for way in ways]


def chosen_two(
    known: Mapping[str, PictureChoice], opened: OpenSetUp, first: str, second: str
) -> tuple[PictureChoice, PictureChoice]:
    """Two of the `known` pictures by their keys. Left out, or none of them: the first is the pinned
    version's where there is one, else the best method's; the second is the best method's, or the next
    one's."""
    shown = opened.plan.shown.key
    usual = f"{PINNED}-{opened.pinned.shown.key}" if opened.pinned else shown
    one = known.get(first) or known[usual]
    rest = [choice for key, choice in known.items() if key != one.key]
    return one, known.get(second) or (known[shown] if one.key != shown else rest[0])
