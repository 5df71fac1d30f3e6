"""The solver against a second one, written from the description of the plan document alone, that tries
every dial position: on fresh set-ups both come to the same verdicts, settings, misses and order."""

import unittest
from collections.abc import Iterator
from itertools import islice
from random import Random

from noggin.core.errors import Refused
from noggin.core.physics.filters import Filter
from noggin.core.planning.plan import plan
from noggin.core.planning.way import Way
from noggin.core.setup.camera import Camera, Lens
from noggin.core.setup.intent import Intent
from noggin.core.setup.light import Light, LightUncertainty
from noggin.core.setup.scene import Scene
from noggin.core.setup.setup import SetUp
from tests.core.planning import reference
from tests.support import EXPLORE

COUNT = 10_000 if EXPLORE else 160

KNOWN = LightUncertainty(0, 0, 0)
"""Figures known for sure, so that a stop of reserve is what is of use."""


def a_light(rng: Random, role: str) -> Light:
    """A light that somebody could bring."""
    return Light(
        gn_m=rng.choice([22, 29, 36, 40, 45, 60]),
        distance_m=rng.choice([0.8, 1.5, 2.5, 4]),
        role=role,
        name=f"{role} {rng.random()}",
        loss=rng.choice([0, 0.7, 1.3]),
        radius_m=rng.choice([0, 0.4]),
        power_min=rng.choice([1 / 16, 1 / 128, 1 / 512]),
        power_step=rng.choice([0.1, 1 / 3, 1.0]),
        hss_toll=rng.choice([None, 1.1, 2.0, 2.4]),
        relative_level=None if role == "key" else rng.choice([None, -1.0]),
        uncertainty=KNOWN,
    )


def a_setup(rng: Random) -> SetUp:
    """A picture that somebody could be asked for, from noon to night, from a portrait to a running
    child."""
    background = rng.uniform(0, 15)
    slowest, sync, fastest = (
        rng.choice([1 / 60, 1 / 30]),
        rng.choice([1 / 160, 1 / 200, 1 / 250]),
        rng.choice([1 / 4000, 1 / 8000]),
    )
    others = rng.choice([(), (), ("fill",), ("background",), ("rim", "background")])
    school = rng.choice(["total", "total", "match", "share", "auto"])
    return SetUp(
        name="any",
        scene=Scene(
            3.2,
            rng.choice([3.7, 4.5, 8, 40]),
            background,
            background - rng.uniform(-1, 4),
            subject_speed_m_s=rng.choice([0, 0, 1.4, 5]),
            subject_uncertainty=0,
        ),
        intent=Intent(
            rng.choice([0, -0.5, -1, -1.75, -3, -3.5, -4, -5.5]),
            rng.choice([1.8, 2.0, 2.8, 5.6]),
            rng.choice([0, 0, -0.5]),
            school,
            rng.choice([0.2, 0.9]) if school == "share" else None,
            rng.choice(["reach", "speed", "glass"]),
            aperture_free=rng.choice([False, False, True]),
        ),
        camera=Camera(
            sync,
            fastest,
            slowest,
            rng.choice([64, 100, 200]),
            rng.choice([400, 1600]),
            rng.choice([2, 3, 3]),
            hss=rng.random() < 0.9,
            shutter=rng.choice(["focal_plane"] * 4 + ["leaf", "global"]),
            support=rng.choice(["hand", "hand", "tripod"]),
        ),
        lens=Lens(rng.choice([35, 50, 85]), 1.8, rng.choice([5.6, 11])),
        lights=tuple(a_light(rng, role) for role in ("key", *others)),
        filters=rng.choice([(), (Filter("3", 3, 3),), (Filter("6", 6, 6), Filter("v", 2, 2.5))]),
    )


def compared_setups(rng: Random) -> Iterator[SetUp]:
    """Random set-ups without those that are refused."""
    while True:
        try:
            yield a_setup(rng)
        except Refused:
            continue


def dialled(way: Way) -> tuple[float, ...]:
    """A way's settings as the second solver gives them."""
    found = way.settings
    figures = (found.aperture.stops, found.shutter.stops, found.iso.stops, found.stack.stops)
    return (len(found.stack.names), *(round(figure, 6) for figure in figures))


class SecondSolver(unittest.TestCase):
    """Two that were written apart agree; a tie that the rules leave open is one in both."""

    def test_verdicts_settings_misses_and_order_agree(self) -> None:
        rng = Random(20261127)  # noqa: S311 - a fixed seed is what a test wants
        for number, setup in enumerate(islice(compared_setups(rng), COUNT)):
            with self.subTest(number=number):
                self.agree(setup)

    def agree(self, setup: SetUp) -> None:
        ours, theirs = plan(setup).ways, reference.solve(setup)
        self.assertEqual(
            [(way.key, way.verdict) for way in ours], [(one.way, one.verdict) for one in theirs]
        )
        for way, one in zip(ours, theirs, strict=True):
            self.assertEqual(dialled(way), tuple(round(figure, 6) for figure in one.row), way.key)
            if way.verdict != "not_needed" and not one.means:
                self.assertAlmostEqual(way.miss, one.miss, places=6, msg=way.key)
            moved = {move.index: move.distance_m for move in way.mend.moves} if way.mend else {}
            self.assertEqual(list(moved), list(one.moves), way.key)
            for index, distance in moved.items():
                self.assertAlmostEqual(distance, one.moves[index], places=6, msg=way.key)
