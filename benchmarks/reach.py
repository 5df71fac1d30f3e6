"""How long a reach grid takes: 10 lights × 10 modifiers × sync and high-speed sync × 96 quarter-hours, as a
ratio to working out that day's light in the same run. Run: make benchmark
"""

from datetime import date
from itertools import product
from statistics import median
from time import perf_counter_ns
from zoneinfo import ZoneInfo

from noggin.core.clock import instants
from noggin.core.daylight.place import Place
from noggin.core.daylight.sky import daylight
from noggin.core.planning.reach import BareLight, ModifierFigures, farthest, flash_need
from noggin.demo import demo_documents
from noggin.documents.setup import setup_of

ROUNDS = 20


def main() -> None:
    """Print both times and their ratio."""
    setup = setup_of(demo_documents()[0])
    sources = [BareLight(24 + 8 * index, None if index == 9 else 1.0 + index / 10) for index in range(10)]
    shapers = [ModifierFigures(index / 5, index / 20) for index in range(10)]
    place, zone = Place(42.46, 0.71), ZoneInfo("Europe/Madrid")
    lighting, reaching = [], []
    for _ in range(ROUNDS):
        start = perf_counter_ns()
        day = [daylight(place, time) for time in instants(date(2027, 6, 19), zone)]
        lit = perf_counter_ns()
        needs = [flash_need(setup, row.sunlit, row.shaded) for row in day]
        cells = [farthest(setup, *cell) for cell in product(needs, sources, shapers)]
        end = perf_counter_ns()
        lighting.append(lit - start)
        reaching.append(end - lit)
    light_ms, reach_ms = median(lighting) / 1e6, median(reaching) / 1e6
    print(
        f"reach of {2 * len(cells)} cells: {reach_ms:.1f} ms, {reach_ms / light_ms:.2f} of the day's light"
        f" ({len(day)} moments, {light_ms:.1f} ms)"
    )


if __name__ == "__main__":
    main()
