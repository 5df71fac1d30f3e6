"""What a rung of the ladder gives up, told from its settings alone: exactly where an edge is passed, and
nowhere else."""

import unittest
from dataclasses import replace
from math import hypot

from noggin.core.planning.plan import plan
from noggin.core.shoot.ladder import ladder
from tests.support import LIGHT, noon

PICTURES = (
    noon(),
    noon(background=9.0, subject=7.0, slowest_s=1 / 30, iso_highest=6400),
    noon(background=12.5, subject=10.5, lights=(replace(LIGHT, gn_m=30),)),
    noon(background=9.0, subject=7.0, focal_mm=64, slowest_s=1 / 30),
    noon(background=7.0, subject=5.0, slowest_s=1 / 15, iso_highest=3200, filters=()),
)


class GivenUp(unittest.TestCase):
    def test_noise_blur_shake_and_reserve(self) -> None:
        seen = {"noise": [0, 0], "blur": [0, 0], "hand-hold": [0, 0], "spare": [0, 0]}
        for setup in PICTURES:
            way = plan(setup).shown
            # On the full frame, whose diagonal the trade takes as 43.27 mm.
            old, hand = way.settings, hypot(36, 24) / (43.27 * setup.lens.focal_mm)
            for rung in ladder(setup, way):
                new, said = (
                    rung.way.settings,
                    "; ".join(rung.lost).replace("just enough", "nothing to spare"),
                )
                spare, now = way.reserve, rung.way.reserve
                less = None if spare is None or now is None else spare - now
                for word, passed in (
                    ("more noise: ISO up", new.iso.stops - old.iso.stops >= 1 - 1e-6),
                    ("less blur, at f/", new.aperture.stops > old.aperture.stops + 1e-6),
                    ("too slow to hand-hold", old.shutter.value <= hand < new.shutter.value),
                    (" to spare", less is not None and less > 0.5 and (now or 0) > -0.05),
                ):
                    with self.subTest(setup=setup.scene.background, shift=rung.shift, word=word):
                        self.assertEqual(word in said, passed, said)
                    key = next(key for key in seen if key in word)
                    seen[key][passed] += 1
        # Each was met on both sides.
        self.assertTrue(all(min(counts) > 0 for counts in seen.values()), seen)
