"""Laws that hold for every input. Source: reciprocity, inverse square, and the definition of a stop."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from noggin.core.physics import dials, exposure, flash
from noggin.core.physics.dials import DialStep
from noggin.core.physics.filters import Stack
from noggin.core.physics.power import dialled_down
from noggin.core.planning.lighting import Settings, light_up
from tests.support import noon

LEVELS = st.floats(-20, 20)
SYNC_OR_SLOWER = st.sampled_from(dials.shutter_dial(3).between(0, 7.7))
PAST_SYNC = st.sampled_from(dials.shutter_dial(3).between(7.8, 13))
APERTURES = st.sampled_from(dials.aperture_dial(3).steps)
ISOS = st.sampled_from(dials.iso_dial().steps)
STACKS = st.floats(0, 15).map(lambda stops: Stack(("ND",), stops))


def full_level(settings: Settings) -> float:
    """The key's level at full power."""
    full = light_up(noon(), settings).key.full
    assert full is not None
    return full


def balance(settings: Settings) -> float:
    """Flash at full power over the subject's daylight."""
    return full_level(settings) - settings.level(noon().scene.subject)


def mixed_of(*levels: float) -> float:
    """Levels mixed; there is always one."""
    mixed = exposure.mix(*levels)
    assert mixed is not None
    return mixed


class Laws(unittest.TestCase):
    @given(SYNC_OR_SLOWER, APERTURES, ISOS, STACKS, APERTURES, ISOS, STACKS)
    def test_filter_aperture_and_iso_never_change_the_balance(
        self,
        time: DialStep,
        n1: DialStep,
        iso1: DialStep,
        nd1: Stack,
        n2: DialStep,
        iso2: DialStep,
        nd2: Stack,
    ) -> None:
        one, other = Settings(time, n1, iso1, nd1), Settings(time, n2, iso2, nd2)
        self.assertAlmostEqual(balance(one), balance(other), places=9)

    @given(SYNC_OR_SLOWER, SYNC_OR_SLOWER, APERTURES, ISOS)
    def test_up_to_sync_the_shutter_moves_daylight_only(
        self, time: DialStep, longer: DialStep, aperture: DialStep, iso: DialStep
    ) -> None:
        one, other = Settings(time, aperture, iso), Settings(longer, aperture, iso)
        self.assertAlmostEqual(full_level(one), full_level(other), places=9)
        self.assertAlmostEqual(one.level(12) - other.level(12), longer.stops - time.stops, places=9)

    @given(PAST_SYNC, PAST_SYNC, APERTURES, ISOS)
    def test_past_sync_flash_and_daylight_keep_their_balance(
        self, time: DialStep, other_time: DialStep, aperture: DialStep, iso: DialStep
    ) -> None:
        one, other = Settings(time, aperture, iso), Settings(other_time, aperture, iso)
        self.assertAlmostEqual(balance(one), balance(other), places=9)

    @given(PAST_SYNC, APERTURES, ISOS)
    def test_high_speed_sync_costs_the_toll_against_a_filter_of_the_same_strength(
        self, time: DialStep, aperture: DialStep, iso: DialStep
    ) -> None:
        sync = noon().camera.sync
        filtered = Settings(sync, aperture, iso, Stack(("ND",), time.stops - sync.stops))
        self.assertAlmostEqual(
            full_level(filtered) - full_level(Settings(time, aperture, iso)), 1.1, places=9
        )

    @given(LEVELS, LEVELS)
    def test_mixing_does_not_ask_for_the_order(self, one: float, other: float) -> None:
        self.assertAlmostEqual(mixed_of(one, other), mixed_of(other, one), places=9)

    @given(LEVELS, LEVELS, st.floats(0.001, 5))
    def test_more_light_is_never_darker_and_two_never_exceed_twice_the_brighter(
        self, one: float, other: float, more: float
    ) -> None:
        mixed = mixed_of(one, other)
        self.assertGreaterEqual(mixed_of(one, other + more), mixed)
        self.assertGreaterEqual(mixed, max(one, other))
        self.assertLessEqual(mixed, max(one, other) + 1 + 1e-9)

    @given(st.floats(-6, 3), st.floats(0.01, 12))
    def test_the_needed_flash_brings_daylight_to_the_level(self, level: float, under: float) -> None:
        ambient = level - under
        needed = exposure.flash_for_total(level, ambient)
        self.assertAlmostEqual(exposure.mix(ambient, needed) or 0.0, level, places=6)

    @given(LEVELS, st.floats(0.01, 0.99))
    def test_the_flash_for_a_share_has_that_share(self, ambient: float, share: float) -> None:
        flash_level = exposure.flash_for_share(share, ambient)
        self.assertAlmostEqual(exposure.flash_share(ambient, flash_level), share, places=9)

    @given(st.floats(0.1, 100), st.floats(1.01, 10), st.floats(0, 2))
    def test_inverse_square_far_away_and_less_close_to_a_big_face(
        self, distance: float, times: float, radius: float
    ) -> None:
        lost = flash.by_distance(distance) - flash.by_distance(distance * times)
        self.assertAlmostEqual(2 ** (lost / 2), times, places=6)
        near = flash.near_source(distance, radius)
        self.assertLessEqual(near, 0)
        self.assertAlmostEqual(flash.near_source(distance * 1e4, radius), 0, places=3)
        self.assertGreaterEqual(flash.near_source(distance * times, radius), near)

    @given(st.floats(-5, 20), st.sampled_from([1 / 3, 0.1, 0.5, 1.0]), st.sampled_from([1 / 16, 1 / 128]))
    def test_dialled_power_is_a_step_of_the_light_and_no_further_than_half_a_step(
        self, reserve: float, step: float, least: float
    ) -> None:
        down = dialled_down(reserve, step, least)
        lowest = dialled_down(99, step, least)
        self.assertTrue(0 <= down <= lowest)
        if 0 < down < lowest:
            self.assertAlmostEqual(down / step, round(down / step), places=6)
            self.assertLessEqual(abs(down - reserve), step / 2 + 1e-6)
