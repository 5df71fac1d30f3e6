"""The core against check values from standards, handbooks and the trade.

`tests/data/rules.csv` carries the source of each row; a row of kind "memory" or "practice" says so there.
Every row is either checked here or named with the part of the core that it waits for.
"""

import csv
import re
import unittest
from collections.abc import Callable

from noggin.core import dials, exposure, filters, flash, optics
from noggin.core.filters import Stack
from noggin.core.lighting import light_up
from tests.support import DATA, noon, settings


def rows(name: str) -> list[dict[str, str]]:
    """A table of check values without its comment lines."""
    lines = (DATA / name).read_text(encoding="utf-8").splitlines()
    return list(csv.DictReader(line for line in lines if not line.startswith("#")))


def gained_by_density_for_aperture() -> float:
    """Flash with density 1.2 at f/1.4 less flash without it at f/6.3, power unchanged."""
    bare = light_up(noon(), settings("1/200", 6.3)).key.full
    stack = Stack(("1.2",), filters.stops_of_density(1.2))
    filtered = light_up(noon(), settings("1/200", 1.4, stack=stack)).key.full
    assert bare is not None
    assert filtered is not None
    return filtered - bare


def hss_level(shutter: str, f_number: float) -> float:
    """Full-power flash level in high-speed sync."""
    full = light_up(noon(), settings(shutter, f_number)).key.full
    assert full is not None
    return full


def shutter_value(label: str) -> float:
    """Exact position of a shutter label on the third-stop dial."""
    return settings(label, 8).shutter.stops


CHECKS: dict[tuple[str, str], Callable[[], float]] = {
    ("settings EV", "f/16 at 1/128 s, ISO 100"): lambda: exposure.settings_ev(
        dials.shutter_stops(1 / 128), dials.aperture_stops(16), 0
    ),
    ("settings EV", "f/1 at 1 s, ISO 100"): lambda: exposure.settings_ev(
        dials.shutter_stops(1), dials.aperture_stops(1), 0
    ),
    ("full sun", "f/16 at 1/ISO s"): lambda: settings("1/100", 16).ev,
    ("ND", "density 0.9"): lambda: filters.stops_of_density(0.9),
    (
        "ND",
        "density 1.2 fitted while opening f/6.3 to f/1.4 with flash power unchanged",
    ): gained_by_density_for_aperture,
    ("ND", "factor 1000"): lambda: filters.stops_of_factor(1000),
    # The distance at which the flash lands on mid-tone at f/5.6.
    ("guide number", "GN 56 m at f/5.6"): lambda: (
        2 ** ((flash.at_one_metre(56) - dials.aperture_stops(5.6)) / 2)
    ),
    ("inverse square", "twice the distance"): lambda: flash.by_distance(5) - flash.by_distance(2.5),
    ("heads", "four equal heads in one modifier"): lambda: flash.by_heads(4),
    ("large source", "disc of radius r at distance r"): lambda: -flash.near_source(0.7, 0.7),
    ("mixing", "ambient 0, flash 0"): lambda: exposure.mix(0.0, 0.0) or 0.0,
    ("fill", "flash share 20 %"): lambda: -exposure.flash_for_share(0.2, 0.0),
    ("hss toll", "large head 600 Ws said to act like 200 Ws"): lambda: filters.stops_of_factor(600 / 200),
    ("hss", "one stop faster past sync and one stop wider, same power"): lambda: (
        hss_level("1/2000", 2.0) - hss_level("1/1000", 2.8)
    ),
    ("sync range", "1/250 to 1/8000"): lambda: shutter_value("1/8000") - shutter_value("1/250"),
    ("background", "sun lit at 1/200 f/5 over by 3.3 stops; 1/2000 f/5"): lambda: (
        3.3 + settings("1/200", 5).ev - settings("1/2000", 5).ev
    ),
    ("hyperfocal", "50 mm, f/8, CoC 0.030 mm"): lambda: optics.hyperfocal(50, 8, 0.030),
    ("Airy disc", "f/16, 550 nm"): lambda: optics.airy_disc(16) * 1000,
}
"""How the core computes what each row states; amounts "under" are given as such, positive."""


def stated(row: dict[str, str]) -> tuple[float, float]:
    """The figure a row states and by how much it may differ."""
    text = row["expect"]
    figure = 0.0 if text in ("correct", "flash level unchanged") else float(last_number(text))
    tolerance = row["tolerance"]
    if tolerance.endswith("%"):
        return figure, figure * float(tolerance.rstrip(" %")) / 100
    return figure, float(tolerance.split()[0])


def last_number(text: str) -> str:
    """The last number in a text: "EV100 14.6" states 14.6."""
    return re.findall(r"[-+]?\b\d+(?:\.\d+)?\b", text)[-1]


WAITS_FOR = {
    "full sun estimate": "daylight",
    "open shade estimate": "daylight",
    "overcast estimate": "daylight",
    "twilight": "daylight",
    "clear-sky total": "daylight",
    "sun position": "daylight",
    "sync": "the lit part of the frame past sync",
    "action": "motion blur",
    "flash duration": "duration tables",
    "battery": "supply",
    "mired": "gels",
    "hand search": "the trial of test pops",
}
"""Topics that the core does not compute yet, with the part they wait for."""


class CheckValues(unittest.TestCase):
    def test_every_row_is_checked_or_waits(self) -> None:
        for row in rows("rules.csv"):
            topic, given = row["topic"], row["given"]
            with self.subTest(topic=topic, given=given, source=row["source"] or row["kind"]):
                if topic in WAITS_FOR or given.startswith("speedlight, four modifiers"):
                    continue
                expected, tolerance = stated(row)
                self.assertAlmostEqual(CHECKS[topic, given](), expected, delta=tolerance)

    def test_nothing_waits_that_is_not_in_the_table(self) -> None:
        table = rows("rules.csv")
        self.assertLessEqual(set(WAITS_FOR), {row["topic"] for row in table})
        self.assertLessEqual(set(CHECKS), {(row["topic"], row["given"]) for row in table})

    def test_tolls_of_a_speedlight_by_plain_inverse_square(self) -> None:
        # Common practice, no source: farthest distances metered at sync and in high-speed sync.
        speedlight = [row for row in rows("reach.csv") if row["light"].startswith("speedlight")]
        self.assertEqual(len(speedlight), 4)
        for row in speedlight:
            toll = flash.by_distance(float(row["hss_m"])) - flash.by_distance(float(row["sync_m"]))
            with self.subTest(modifier=row["modifier"]):
                self.assertTrue(2.1 <= toll <= 2.65)
                self.assertAlmostEqual(toll, float(row["toll_stops"]), delta=0.05)
