"""How few pops the best possible photographer could need: what §9's trust in a look allows anybody.

Background and face each have an offset that nobody knows, normal with half its ± for a standard
deviation and never beyond its ±; each frame shows both through the noise of its kind; daylight drifts.
The photographer knows all of that exactly, weighs everything seen (for two offsets that do not mix the
Kalman filter is the best estimate), and dials in thirds, without limits. What comes of it bounds
benchmarks/at_the_spot from below.
Run: python -m benchmarks.pops_bound
"""

from math import sqrt

import numpy as np

from benchmarks.at_the_spot import APART_MIN, CLASS, MEASURED
from noggin.core.pops.actual import DRIFT
from noggin.core.pops.frame import TRUST
from noggin.core.pops.judging import NEAR
from noggin.core.setup.light import LightUncertainty

TRIALS, POPS_MOST, STEP = 200_000, 12, 1 / 3
DAYLIGHT = 0.8 / 2
"""Standard deviation of daylight as benchmarks/at_the_spot has it."""


def pops(known: LightUncertainty, by: str, one_control: bool, seed: int = 1) -> np.ndarray:
    """Pops until both are within a third of a stop, for many photographers; one control changed a pop, or
    both."""
    chance = np.random.default_rng(seed)
    spread = np.array([DAYLIGHT, np.hypot(known.gn, known.loss) / 2])
    look, drift = TRUST[by].uncertainty / 2, np.array([DRIFT["clear"] * sqrt(APART_MIN), 0.0])
    truth = np.stack([_within(chance, DAYLIGHT), _within(chance, known.gn / 2, known.loss / 2)], axis=1)
    rest = chance.uniform(-STEP / 2, STEP / 2, (TRIALS, 2))  # what dials leave of the plan, known
    mean, dialled = np.zeros((TRIALS, 2)), np.zeros((TRIALS, 2))
    spread_squared = np.tile(spread**2, (TRIALS, 1))
    found = np.full(TRIALS, POPS_MOST + 1)
    for pop in range(POPS_MOST + 1):
        if pop:
            truth += chance.normal(0, 1, (TRIALS, 2)) * drift
            spread_squared += drift**2
            right = (np.abs(truth + rest + dialled) <= NEAR).all(1)
            found = np.where(right & (found > POPS_MOST), pop, found)
        seen = truth + chance.normal(0, look, (TRIALS, 2))
        gain = spread_squared / (spread_squared + look**2)
        if not pop:
            gain[:, 1] = 0  # the flash is off
        mean += gain * (seen - mean)
        spread_squared *= 1 - gain
        wanted = -np.round((mean + rest) / STEP) * STEP
        off = np.abs(mean + rest + dialled)
        # Before a light has fired, nothing of it is dialled yet: it goes along.
        turned = off >= off.max(1, keepdims=True) if one_control and pop else np.ones_like(off, bool)
        dialled = np.where(turned, wanted, dialled)
    return found


def _within(chance: np.random.Generator, *spreads: float) -> np.ndarray:
    """The sum of some offsets for each photographer, none of them beyond two standard deviations."""
    total = np.zeros(TRIALS)
    for spread in spreads:
        off = chance.standard_normal(TRIALS)
        while (beyond := np.abs(off) > 2).any():
            off[beyond] = chance.standard_normal(beyond.sum())
        total += off * spread
    return total


def main() -> None:
    """Print everything."""
    for kit, known in (("class defaults", CLASS), ("measured kit", MEASURED)):
        for by in ("words", "raw"):
            for how, one in (("one control a pop", True), ("both at once", False)):
                found = pops(known, by, one)
                shares = ", ".join(
                    f"{100 * (found <= most).mean():.1f} % in {most}" for most in (1, 2, 4, 6)
                )
                most = int(np.percentile(found, 95, method="higher"))
                print(f"{kit}, {by}, {how}: median {np.median(found):.0f}, 95th {most}; {shares}")


if __name__ == "__main__":
    main()
