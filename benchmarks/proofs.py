"""Proofs: a dial changed (five small pictures and a large one again), a light moved, a first look; in
milliseconds and as ratios to a plan of the same set-up, in one run. And the memory that is kept.
Run: python -m benchmarks.proofs"""

import resource
import sys
from collections.abc import Callable
from copy import deepcopy
from importlib.resources import files
from statistics import median
from time import perf_counter
from typing import Any

from noggin.core.planning.plan import plan
from noggin.core.planning.way import Plan
from noggin.documents.json_input import read_object
from noggin.documents.setup import canonical, setup_of
from noggin.forms.layout_change import canonical_with_layout
from noggin.services.setups.proofs import Proofs, ProofShown, recipe_of

ROUNDS = 12
SETUPS = ("1-orchard-wall", "5-terrace-dusk", "7-pear-trees", "8-last-dance")


def timed(act: Callable[[], object]) -> float:
    """Milliseconds of one go."""
    start = perf_counter()
    act()
    return 1000 * (perf_counter() - start)


def document(name: str) -> Any:
    """A set-up of the demo."""
    return canonical(read_object((files("noggin.demo") / "setups" / f"{name}.json").read_bytes()))


def all_pictures(proofs: Proofs, found: Plan) -> None:
    """What a Bench shows: a small picture of each way, and a large one of the first."""
    for way in found.ways:
        proofs.file(recipe_of(found.setup, way), ProofShown(small=True))
    proofs.file(recipe_of(found.setup, found.shown), ProofShown())


def main() -> None:
    """Print a line for each set-up."""
    write = sys.stdout.write
    write("set-up              plan ms  first  a dial   ratio  a light   ratio\n")
    for name in SETUPS:
        proofs, base = Proofs(), document(name)
        first = timed(lambda: all_pictures(proofs, plan(setup_of(base))))  # noqa: B023 - used at once
        dials, lights, plans = [], [], []
        for turn in range(ROUNDS):
            dialled = deepcopy(base)
            # Another picture each time: what was rendered once is not rendered again.
            dialled["intent"]["background_level"] += (turn % 4 - 2) / 3
            dialled["intent"]["subject_level"] += (turn // 4 - 1) / 3
            setup = setup_of(dialled)
            plans.append(timed(lambda: plan(setup)))  # noqa: B023
            found = plan(setup)
            dials.append(timed(lambda: all_pictures(proofs, found)))  # noqa: B023
            moved = deepcopy(base)
            moved["lights"][0]["distance_m"] = round(
                moved["lights"][0]["distance_m"] * (1 + 0.01 * (turn + 1)), 3
            )
            found = plan(setup_of(canonical_with_layout(moved)))
            lights.append(timed(lambda: all_pictures(proofs, found)))  # noqa: B023
        one = median(plans)
        write(
            f"{name:18} {one:8.1f} {first:6.0f} {median(dials):7.1f} {median(dials) / one:7.1f}"
            f" {median(lights):8.1f} {median(lights) / one:7.1f}   kept {proofs.bytes_kept / 1e6:.0f} MB\n"
        )
    write(
        f"most memory of this process: {resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024:.0f} MB\n"
    )


if __name__ == "__main__":
    main()
