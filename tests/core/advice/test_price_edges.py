"""Thresholds of what is said of a way on both sides: its price, what is to spare, where it lands, spill,
and flash by share."""

import unittest
from dataclasses import replace
from typing import Any

from noggin.core.advice.price import price
from noggin.core.advice.reasons import share_words
from noggin.core.advice.verdict_words import landing_words, spare_words
from noggin.core.advice.way_table import spill_text
from noggin.core.physics.dials import DialStep, iso_dial
from noggin.core.planning.plan import plan
from noggin.core.planning.verdicts import Miss
from noggin.core.planning.way import Way
from noggin.core.setup.setup import SetUp
from noggin.web.drawings.scale import scale
from tests.support import noon

NARROW = 0.001


def way_of(setup: SetUp, key: str = "nd") -> Way:
    """One way of a set-up."""
    return plan(setup).way(key)


def with_levels(way: Way, **levels: Any) -> Way:
    """A way whose zones land elsewhere."""
    return replace(way, lighting=replace(way.lighting, levels=replace(way.lighting.levels, **levels)))


def dialled(way: Way, **settings: Any) -> Way:
    """A way with other settings, nothing else worked out anew."""
    return replace(way, lighting=replace(way.lighting, settings=replace(way.settings, **settings)))


class Price(unittest.TestCase):
    def test_noise_is_a_price_from_two_stops_of_iso_up(self) -> None:
        setup = noon(background=7.0, subject=5.0)
        way = way_of(setup, "within_sync")
        for stops, said in ((5 / 3, "nothing"), (2.0, "noise of ISO 400")):
            self.assertEqual(price(setup, dialled(way, iso=iso_dial().nearest(stops))), said)

    def test_blur_is_a_price_where_what_is_lost_shows(self) -> None:
        # A stop smaller leaves 1/√2 of the blur: of b, b·(√2 − 1) is lost, 0.2% at b = 0.483.
        setup = noon()
        way = way_of(setup, "stop_down")
        edge = 0.2 / (2**0.5 - 1)
        aperture = DialStep(3.0, 2 * 2**0.5, "2.8", 3.0)
        for blur, said in ((edge - NARROW, False), (edge + NARROW, True)):
            focused = replace(
                dialled(way, aperture=aperture), focus=replace(way.focus, background_blur_pct=blur)
            )
            self.assertEqual("blurs" in price(setup, focused), said)
        endless = replace(way, focus=replace(way.focus, far_m=None))
        self.assertIn("sharp to the horizon", price(setup, endless))

    def test_what_is_already_said_as_a_drawback_is_no_price(self) -> None:
        setup = noon(blur_least_pct=2.0)
        way = way_of(setup, "stop_down")
        self.assertTrue(way.drawbacks)
        self.assertEqual(price(setup, way), "nothing")

    def test_battery_and_heat_from_a_quarter_of_power(self) -> None:
        setup = noon()
        way = way_of(setup, "hss")
        for down, words in ((2.0, "battery and heat at 25% power"), (2.0 + NARROW, "some battery")):
            firing = replace(way.lighting.key, down=down)
            lit = replace(way, lighting=replace(way.lighting, firings=(firing,)))
            self.assertIn(words, price(setup, lit))


class Said(unittest.TestCase):
    def test_what_is_to_spare(self) -> None:
        self.assertEqual(
            [spare_words(reserve) for reserve in (0.0499, 0.0501, -0.0499, -0.0501)],
            ["just enough", "0.1 stop to spare", "just enough", "0.1 stop short"],
        )

    def test_a_hair_under_is_not_written_as_a_figure(self) -> None:
        way = replace(way_of(noon()), verdict="just")
        for by, words in ((0.0499, "faces just as meant"), (0.0501, "faces at 0.0")):
            missed = replace(way, misses=(Miss("flash", by, by, way.lighting.key.light.says),))
            self.assertEqual(landing_words(missed), words)

    def test_spill_that_is_next_to_nothing(self) -> None:
        way = way_of(noon())
        self.assertEqual(spill_text(with_levels(way, spill=-8.0)), "next to nothing")
        self.assertEqual(spill_text(with_levels(way, spill=-7.94)), "−7.9")
        self.assertEqual(spill_text(with_levels(way, spill=None)), "—")

    def test_spill_is_marked_on_the_scale_where_it_counts(self) -> None:
        setup = noon()
        way = with_levels(way_of(setup), background_ambient=-1.0)
        for spill, marked in ((-4.0, False), (-4.0 + NARROW, True)):
            labels = [mark.zone.label for mark in scale(setup, with_levels(way, spill=spill)).below]
            self.assertEqual(any(label.startswith("spill") for label in labels), marked)

    def test_share_speaks_up_against_the_light_and_where_it_shows(self) -> None:
        # Backlit from two stops between background and faces; what is missed shows from a third of a stop.
        for subject, said in ((12.61, False), (12.6, True)):
            setup = noon(school="share", share=0.2, subject=subject)
            self.assertEqual(bool(share_words(setup, way_of(setup))), said)
        setup = noon(school="share", share=0.2)
        for level, said in ((1 / 3, False), (1 / 3 + NARROW, True), (-1 / 3 - NARROW, True)):
            self.assertEqual(bool(share_words(setup, with_levels(way_of(setup), subject=level))), said)
