"""The day as pictures: the first five and thirty of them, in milliseconds and as ratios to one small
proof of the same set-up, in one run. Run: python -m benchmarks.hours"""

import itertools
import sys
from importlib.resources import files
from time import perf_counter

from noggin.documents.json_input import read_object
from noggin.documents.setup import setup_of
from noggin.forms.layout_change import canonical_with_layout
from noggin.services.setups.hours import day_of
from noggin.services.setups.proofs import Proofs, ProofShown

SETUPS = ("1-orchard-wall", "3-meridian-steps", "5-terrace-dusk")
SMALL = ProofShown(small=True)


def main() -> None:
    """Print a line for each set-up."""
    sys.stdout.write("set-up              one ms  first five  thirty   ratio of thirty\n")
    for name in SETUPS:
        raw = (files("noggin.demo") / "setups" / f"{name}.json").read_bytes()
        day = day_of(setup_of(canonical_with_layout(read_object(raw))))
        if day is None:
            continue
        proofs, marks = Proofs(), []
        start = perf_counter()
        for shown in day.hours[:30]:
            proofs.file(shown.recipe, SMALL)
            marks.append(1000 * (perf_counter() - start))
        one = min(after - before for before, after in itertools.pairwise(marks))
        sys.stdout.write(f"{name:<20}{one:6.0f}{marks[4]:12.0f}{marks[-1]:8.0f}{marks[-1] / one:14.1f}\n")


if __name__ == "__main__":
    main()
