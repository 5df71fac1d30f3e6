"""Thousands of random set-ups: no exception, no NaN, and plans that can be recomputed."""

import unittest
from collections.abc import Iterator
from itertools import islice
from math import isfinite, log2
from random import Random

from noggin.core.advice.remedies import remedies
from noggin.core.errors import Refused
from noggin.core.physics.battery import Battery
from noggin.core.physics.filters import Filter
from noggin.core.physics.pulse import Pulse
from noggin.core.planning.plan import plan
from noggin.core.planning.way import Way
from noggin.core.setup.camera import Camera, Lens
from noggin.core.setup.intent import Intent
from noggin.core.setup.light import Light
from noggin.core.setup.scene import Scene
from noggin.core.setup.setup import SetUp
from tests.core.planning import reference
from tests.support import EXPLORE, MOMENT

COUNT = 10_000 if EXPLORE else 250
REMEDIED = 20
"""Every so many of them are remedied too."""


def any_light(rng: Random, role: str) -> Light:
    """A light within the limits of a document, from a toy to a truck."""
    return Light(
        gn_m=10 ** rng.uniform(-0.3, 3),
        distance_m=10 ** rng.uniform(-1, 2.3),
        role=role,
        loss=rng.uniform(-1, 8),
        radius_m=rng.choice([0, rng.uniform(0, 3)]),
        count=rng.randint(1, 16),
        power_min=2.0 ** -rng.randint(0, 13),
        power_step=rng.choice([0.1, 1 / 3, 1 / 2, 1.0]),
        scale=rng.choice(["fraction", "decimal"]),
        hss_toll=rng.choice([None, rng.uniform(-1, 8)]),
        relative_level=None if role == "key" else rng.choice([None, rng.uniform(-10, 10)]),
        gel=rng.choice([None, "full_cto"]),
        pulse=rng.choice([None, Pulse(rng.choice(["cut", "voltage"]), 10 ** rng.uniform(-6, 0))]),
        battery=rng.choice([None, Battery(rng.uniform(1, 1000), rng.uniform(0.01, 120))]),
    )


def any_setup(rng: Random) -> SetUp:
    """A set-up anywhere within the limits of a document."""
    subject_m = 10 ** rng.uniform(0.4, 3)
    low, high = sorted(rng.uniform(25, 102_400) for _ in range(2))
    widest, smallest = sorted(rng.uniform(0.95, 32) for _ in range(2))
    smallest = min(32, max(smallest, widest * 1.6))
    slow, sync, fast = sorted(10 ** rng.uniform(-3.9, 1.4) for _ in range(3))[::-1]
    school = rng.choice(["total", "match", "share", "auto"])
    roles = ["key", *(rng.choice(["fill", "rim", "background"]) for _ in range(rng.randint(0, 3)))]
    return SetUp(
        name="any",
        scene=Scene(
            subject_m,
            subject_m * 10 ** rng.uniform(0, 3),
            rng.uniform(-10, 20),
            rng.uniform(-10, 20),
            sky=rng.choice([None, rng.uniform(-10, 20)]),
            rim=rng.choice([None, rng.uniform(-10, 20)]),
            subject_speed_m_s=rng.choice([0, rng.uniform(0, 50)]),
            gust_m_s=rng.choice([None, rng.uniform(0, 40)]),
            moment=rng.choice([None, MOMENT]),
        ),
        intent=Intent(
            rng.uniform(-10, 10),
            rng.uniform(widest, smallest),
            rng.uniform(-10, 10),
            school,
            rng.uniform(0.001, 0.999) if school == "share" else None,
            rng.choice(["reach", "speed", "glass"]),
        ),
        camera=Camera(
            sync,
            fast,
            slow,
            low,
            high,
            rng.choice([1, 2, 3]),
            sensor_mm=(rng.uniform(4, 60), rng.uniform(4, 60)),
            hss=rng.random() < 0.8,
            shutter=rng.choice(["focal_plane", "leaf", "global", "rolling"]),
        ),
        lens=Lens(10 ** rng.uniform(0.8, 3.1), widest, smallest),
        lights=tuple(any_light(rng, role) for role in roles),
        filters=tuple(
            Filter(str(index), least, least + rng.choice([0, 0, rng.uniform(0, 5)]))
            for index, least in enumerate(rng.uniform(0.1, 12) for _ in range(rng.randint(0, 4)))
        ),
    )


def valid_setups(rng: Random) -> Iterator[SetUp]:
    """Random set-ups without those that are refused, such as times that snap past one another."""
    while True:
        try:
            yield any_setup(rng)
        except Refused:
            continue


class Many(unittest.TestCase):
    def test_every_plan_can_be_recomputed(self) -> None:
        rng = Random(20270619)  # noqa: S311 - a fixed seed is what a test wants
        for number, setup in enumerate(islice(valid_setups(rng), COUNT)):
            planned = plan(setup)
            with self.subTest(number=number):
                for way in planned.ways:
                    self.recompute(setup, way)
                if number % REMEDIED == 0:
                    for found in remedies(planned).values():
                        self.assertTrue(all(isfinite(helps.gain) and helps.gain > 0 for helps in found))

    def recompute(self, setup: SetUp, way: Way) -> None:
        """Levels, powers and reserves from the dialled settings, the lights and the set-up alone."""
        dialled, levels = way.settings, way.lighting.levels
        tv, av, sv = (
            -log2(dialled.shutter.value),
            2 * log2(dialled.aperture.value),
            log2(dialled.iso.value / 100),
        )
        nd = dialled.stack.stops
        taken = av + tv - sv + nd
        self.assertAlmostEqual(levels.background_ambient, setup.scene.background - taken, places=6)
        self.assertAlmostEqual(levels.subject_ambient, setup.scene.subject - taken, places=6)
        light_on_subject = 2**levels.subject_ambient
        for light, firing in zip(setup.lights, way.lighting.firings, strict=True):
            full = reference.full_level(setup, light, av, tv, sv, nd)
            self.assertEqual(full is None, firing.full is None)
            if full is None or firing.level is None or firing.down is None:
                continue
            self.assertAlmostEqual(full, firing.full or 0.0, places=6)
            self.assertTrue(-1e-9 <= firing.down <= -log2(light.power_min) + 1e-9)
            off = reference.dialled(setup, light, tv, full - (firing.needed or 0.0))
            self.assertAlmostEqual(firing.level - (firing.needed or 0.0), off, places=6)
            if light.role in ("key", "fill"):
                light_on_subject += 2**firing.level
        self.assertAlmostEqual(levels.subject, log2(light_on_subject), places=6)
        for figure in (levels.background, way.focus.near_m, way.focus.background_blur_pct):
            self.assertTrue(isfinite(figure))
        self.assertEqual(way.verdict == "holds", not way.misses and not way.not_needed)
