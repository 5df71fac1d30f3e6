"""What frames say of light and gear: the estimate against closed forms.

Where every observation is of one light alone, the problem is linear and Gaussian: posterior and evidence
are then known exactly (normal equations; Bishop, Pattern Recognition and Machine Learning, Springer 2006,
equations 2.113 to 2.117, from memory).
"""

import unittest
from dataclasses import replace
from math import log, log2, pi

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from noggin.core.errors import Refused
from noggin.core.physics.dials import aperture_stops
from noggin.core.planning.plan import work_out
from noggin.core.planning.ways import WAYS
from noggin.core.pops import linear, observed
from noggin.core.pops.actual import ActualFrame, LightSum, Lit, Unknowns, as_dialled
from noggin.core.pops.estimate import Stories
from noggin.core.pops.frame import (
    ClippedSeen,
    Dialled,
    Frame,
    LevelSeen,
    MeterSeen,
    ShareSeen,
    place_of,
)
from noggin.core.pops.judging import with_flash
from noggin.core.setup.setup import SetUp
from tests.support import LIGHT, MOMENT, fewer, noon

SETUP = noon(lights=(LIGHT, replace(LIGHT, name="Second", role="fill", relative_level=-1.0)))
WAY = work_out(SETUP, WAYS["nd"])
DIALLED = with_flash(SETUP, WAY, Dialled(WAY.settings, {}, False))


def frame(*seen: object, minute: float = 0.0, flash: bool = True) -> Frame:
    """A frame as planned, with what was seen."""
    return Frame(minute, flash, DIALLED, seen)  # type: ignore[arg-type]


def metered(off: float, light: str = "Large head", setup: SetUp = SETUP) -> MeterSeen:
    """A meter that reads so many stops over what was planned."""
    lit = Lit(Unknowns(setup, (0.0,)), 0, ActualFrame(DIALLED))
    planned, _ = lit.light(place_of(setup, light)).level([0.0] * len(lit.unknowns.all))
    return MeterSeen(light, planned + off + DIALLED.settings.aperture.stops)


def estimate(*frames: Frame, setup: SetUp = SETUP) -> object:
    """What they say if all went well."""
    stories = Stories(setup, frames)
    return stories.estimate(stories.plain)


class Linear(unittest.TestCase):
    def test_one_reading_is_weighed_against_what_was_believed(self) -> None:
        prior, noise = LIGHT.uncertainty.gn / 2, 0.1
        weight = prior**2 / (prior**2 + noise**2)
        value, uncertainty = estimate(frame(metered(0.8))).offset("light 0")  # type: ignore[attr-defined]
        self.assertAlmostEqual(value, weight * 0.8, 6)
        self.assertAlmostEqual(uncertainty, 2 * prior * noise / np.hypot(prior, noise), 6)

    def test_readings_of_two_lights_by_the_normal_equations(self) -> None:
        found = estimate(frame(metered(0.5), metered(-0.3, "Second"), metered(0.7)))
        prior, noise = LIGHT.uncertainty.gn / 2, 0.1
        for light, read in (("light 0", (0.5, 0.7)), ("light 1", (-0.3,))):
            wanted = sum(read) / noise**2 / (1 / prior**2 + len(read) / noise**2)
            self.assertAlmostEqual(found.offset(light)[0], wanted, 6)  # type: ignore[attr-defined]

    def test_how_well_two_stories_explain_a_reading(self) -> None:
        stories = Stories(SETUP, (frame(metered(0.9)),))
        plain = as_dialled(stories.frames[0], SETUP)
        powers = {**DIALLED.powers, 0: DIALLED.powers[0] - 1}
        slipped = replace(plain, dialled=replace(DIALLED, powers=powers))
        variance = (LIGHT.uncertainty.gn / 2) ** 2 + 0.1**2
        exact = [-((0.9 - shift) ** 2) / 2 / variance - log(2 * pi * variance) / 2 for shift in (0.0, 1.0)]
        found = [stories.estimate(story).evidence for story in (plain, slipped)]
        self.assertAlmostEqual(found[1] - found[0], exact[1] - exact[0], 6)


class Sums(unittest.TestCase):
    @fewer(60)
    @given(
        st.lists(
            st.tuples(st.floats(-8, 6), st.integers(-1, 1), st.integers(-1, 1)), min_size=1, max_size=4
        ),
        st.tuples(st.floats(-2, 2), st.floats(-2, 2)),
    )
    def test_a_sum_of_lights_follows_each_offset_by_its_part(
        self, lights: list[tuple[float, int, int]], at: tuple[float, float]
    ) -> None:
        terms = LightSum(tuple((c, {0: float(a), 1: float(b)}) for c, a, b in lights))
        level, follows = terms.level(at)
        linear = log2(sum(2 ** (c + a * at[0] + b * at[1]) for c, a, b in lights))
        self.assertAlmostEqual(level, linear, 9)
        for index in range(2):
            ahead, behind = [*at], [*at]
            ahead[index] += 1e-5
            behind[index] -= 1e-5
            slope = (terms.level(ahead)[0] - terms.level(behind)[0]) / 2e-5
            self.assertAlmostEqual(follows[index], slope, 5)

    @given(st.floats(-60, 6), st.floats(-1, 1))
    def test_what_is_darker_than_is_seen_is_the_darkest_and_follows_nothing(
        self, constant: float, at: float
    ) -> None:
        level, follows, _ = observed.seen_level(LightSum(((constant, {0: 1.0}),)), [at])
        if constant + at < observed.DARKEST:
            self.assertEqual((level, follows), (observed.DARKEST, {}))
        else:
            self.assertEqual((level, follows), (constant + at, {0: 1.0}))
        self.assertEqual(observed.seen_level(LightSum(()), [at]), (observed.DARKEST, {}, []))


class LinearAlgebra(unittest.TestCase):
    """Against numpy's (LAPACK)."""

    @given(st.integers(1, 9), st.integers(0, 2**32 - 1))
    def test_factor_solution_inverse_and_determinant(self, size: int, seed: int) -> None:
        chance = np.random.default_rng(seed)
        made = chance.standard_normal((size, size))
        matrix = made @ made.T + 0.1 * np.eye(size)
        right = chance.standard_normal(size)
        lower = linear.cholesky(matrix.tolist())
        np.testing.assert_allclose(
            linear.solved(lower, right.tolist()), np.linalg.solve(matrix, right), 1e-6
        )
        np.testing.assert_allclose(linear.inverse(lower), np.linalg.inv(matrix), 1e-5, 1e-8)
        self.assertAlmostEqual(linear.log_determinant(lower), float(np.linalg.slogdet(matrix)[1]), 6)
        row = {index: float(value) for index, value in enumerate(right) if index % 2}
        sparse = np.array([row.get(index, 0.0) for index in range(size)])
        self.assertAlmostEqual(
            linear.spread_along(row, matrix.tolist()), float(sparse @ matrix @ sparse), places=6
        )

    def test_what_is_not_positive_definite_is_refused(self) -> None:
        with self.assertRaises(ValueError):
            linear.cholesky([[1.0], [2.0, 1.0]])


class Laws(unittest.TestCase):
    @fewer(25)
    @given(st.floats(-1.5, 1.5), st.sampled_from(["words", "jpeg", "raw"]))
    def test_seeing_never_makes_less_certain_and_a_level_comes_toward_what_was_seen(
        self, off: float, by: str
    ) -> None:
        before = estimate(frame())
        planned, unsure = before.zones["subject"]  # type: ignore[attr-defined]
        after = estimate(frame(LevelSeen("subject", planned + off, by)))
        level, surer = after.zones["subject"]  # type: ignore[attr-defined]
        self.assertLessEqual(surer, unsure + 1e-9)
        self.assertLessEqual(abs(planned + off - level), abs(off) + 1e-9)
        for key in after.unknowns.place:  # type: ignore[attr-defined]
            self.assertLessEqual(after.offset(key)[1], before.offset(key)[1] + 1e-9)  # type: ignore[attr-defined]

    def test_a_share_tells_flash_from_daylight(self) -> None:
        found = estimate(frame(ShareSeen(0.5)))
        lit = found.lit(ActualFrame(DIALLED))  # type: ignore[attr-defined]
        apart = lit.flash().level(found.offsets)[0] - lit.daylight("subject").level(found.offsets)[0]  # type: ignore[attr-defined]
        planned = WAY.lighting.levels.flash - WAY.lighting.levels.subject_ambient  # type: ignore[operator]
        self.assertLess(abs(apart), abs(planned) / 4)

    def test_clipping_says_only_that_it_is_no_less(self) -> None:
        sky = noon(lights=SETUP.lights, sky=20.0)
        bright = estimate(frame(ClippedSeen("sky")), setup=sky)
        self.assertAlmostEqual(bright.daylight_offset("sky")[0], 0.0, 6)  # type: ignore[attr-defined]
        dark = estimate(frame(ClippedSeen("sky")), setup=noon(lights=SETUP.lights, sky=14.0))
        self.assertGreater(dark.daylight_offset("sky")[0], 0.3)  # type: ignore[attr-defined]

    def test_an_older_frame_says_less_of_the_light_that_is_now(self) -> None:
        seen = LevelSeen("background", 0.0, "raw")
        clear = noon(lights=SETUP.lights, moment=MOMENT)
        soon, late = (
            estimate(frame(seen), frame(minute=minutes), setup=clear).zones["background"]  # type: ignore[attr-defined]
            for minutes in (1.0, 60.0)
        )
        self.assertLess(soon[1], late[1])

    def test_lights_are_known_by_name_or_role(self) -> None:
        self.assertEqual([place_of(SETUP, name) for name in ("Second", "Key", "fill")], [1, 0, 1])
        with self.assertRaisesRegex(Refused, "there is no light ‘Sun’; there are Large head, Second"):
            place_of(SETUP, "Sun")

    def test_a_meter_has_no_filter_before_it(self) -> None:
        # GN 60 at 2.5 m and half power: f/24/√2 at ISO 100, whatever is before the lens (ISO 1230).
        half = replace(DIALLED, powers={0: 1.0})
        lit = Lit(Unknowns(SETUP, (0.0,)), 0, ActualFrame(half))
        level, _ = lit.light(0).level([0.0] * len(lit.unknowns.all))
        read = level + DIALLED.settings.aperture.stops
        self.assertAlmostEqual(read, aperture_stops(24) - 1, 6)
