"""How many test pops it takes by feel: start at a quarter power, double or halve, then thirds.

The power needed is spread evenly over 0 to 7 stops below full. Run: make benchmark
"""

from statistics import median, quantiles

START = 2.0
"""Stops under full power at which a search by feel begins. Common practice, no source."""

RIGHT = 1 / 3
"""Stops within which the flash is taken as right."""


def pops(needed: float) -> int:
    """Pops until the power is within a third of `needed` (stops under full, 0 to 7).

    The screen shows the sign of what is off, and whether it is right, but not by how much: whole stops
    in one direction until the sign turns, then thirds.
    """
    power, step, fired = START, 1.0, 1
    direction = 1 if needed > power else -1
    while abs(needed - power) > RIGHT + 1e-9:
        if (needed - power) * direction < 0:
            direction, step = -direction, 1 / 3
        power += direction * step
        fired += 1
    return fired


def spread(count: int = 7001) -> list[int]:
    """Pops for powers spread evenly over the range."""
    return [pops(7 * at / (count - 1)) for at in range(count)]


def main() -> None:
    """Print median and 95th percentile."""
    counts = spread()
    print(f"pops by feel: median {median(counts):.0f}, 95th percentile {quantiles(counts, n=20)[-1]:.0f}")


if __name__ == "__main__":
    main()
