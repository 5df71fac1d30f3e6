"""How many test pops a set-up takes: by feel, with class defaults, with measured figures.

Each trial is a whole set-up: a hidden light that needs anything from full power to 7 stops below it,
ambient read with noise, planned by the core with what is believed of the light; then pops until the
subject is within a third of a stop. Run: make benchmark
"""

from collections.abc import Callable
from functools import partial
from math import log2
from random import Random
from statistics import median, quantiles

from noggin.core.physics.exposure import mix
from noggin.core.planning.plan import work_out
from noggin.core.planning.ways import WAYS
from noggin.core.setup.camera import Camera, Lens
from noggin.core.setup.intent import Intent
from noggin.core.setup.light import Light
from noggin.core.setup.scene import Scene
from noggin.core.setup.setup import SetUp
from noggin.core.units import Stops

START: Stops = 2.0
"""Stops under full power at which a search by feel begins. Common practice, no source."""

RIGHT: Stops = 1 / 3
"""Stops within which the flash is taken as right."""

TRIALS = 2_000
AMBIENT_NOISE: Stops = 0.15
"""Standard deviation of an ambient reading; the ± of a measured one is two of them."""

BELIEVED: dict[str, tuple[Stops, Stops]] = {"class defaults": (0.4, 0.4), "measured": (0.075, 0.075)}
"""Standard deviation of what is believed of guide number and modifier: half the ± of a class default,
and what three readings with 0.1 stop of noise leave."""


def pops(needed: Stops, power: Stops = START, step: Stops = 1.0) -> int:
    """Pops until the power (stops under full) is within a third of `needed`.

    The screen shows the sign of what is off, and whether it is right, but not by how much: steps in one
    direction until the sign turns, then thirds.
    """
    fired = 1
    direction = 1 if needed > power else -1
    while abs(needed - power) > RIGHT + 1e-9:
        if (needed - power) * direction < 0:
            direction, step = -direction, 1 / 3
        power += direction * step
        fired += 1
    return fired


def spread(count: int = 7001) -> list[int]:
    """Pops by feel for powers spread evenly over the range."""
    return [pops(7 * index / (count - 1)) for index in range(count)]


def planned(rng: Random, believed: tuple[Stops, Stops]) -> int:
    """Pops of one whole set-up whose first is dialled as the core plans it; the rest go by thirds."""
    needed = rng.uniform(0, 7)
    loss, distance, aperture, background, subject = 1.0, 2.0, 4.0, 9.0, 6.5
    ambient = -2.5  # the subject under the background, which is meant at 0
    flash = log2(1 - 2**ambient)
    reach = needed + flash + 2 * log2(aperture) + loss + 2 * log2(distance)
    gn = 2 ** (reach / 2)
    setup = SetUp(
        "trial",
        Scene(3, 40, background + rng.gauss(0, AMBIENT_NOISE), subject + rng.gauss(0, AMBIENT_NOISE)),
        Intent(0.0, aperture),
        Camera(1 / 200, slowest_s=1 / 15),
        Lens(85, 1.8, 16),
        (
            Light(
                gn * 2 ** (rng.gauss(0, believed[0]) / 2),
                distance,
                loss=loss + rng.gauss(0, believed[1]),
                power_min=1 / 512,
            ),
        ),
    )
    way = work_out(setup, WAYS["within_sync"])
    settings, down = way.settings, way.lighting.key.down or 0.0
    daylight = settings.level(subject)
    full = reach - loss - 2 * log2(distance) - settings.aperture.stops + settings.iso.stops
    off = (mix(daylight, full - down) or 0.0) - 0.0
    if abs(off) <= RIGHT:
        return 1
    right = full - log2(1 - 2**daylight)
    return pops(right, down, 1 / 3)


def trials(rng: Random, believed: tuple[Stops, Stops]) -> list[int]:
    """How many pops each of so many trials took."""
    return [planned(rng, believed) for _ in range(TRIALS)]


def main() -> None:
    """Print median and 95th percentile of each way of finding the power."""
    rng = Random(7)  # noqa: S311 - a trial, not a secret
    ways: dict[str, Callable[[], list[int]]] = {
        "by feel": spread,
        **{name: partial(trials, rng, believed) for name, believed in BELIEVED.items()},
    }
    for name, play in ways.items():
        counts = play()
        print(
            f"pops {name}: median {median(counts):.0f}, 95th percentile {quantiles(counts, n=20)[-1]:.0f}"
        )


if __name__ == "__main__":
    main()
