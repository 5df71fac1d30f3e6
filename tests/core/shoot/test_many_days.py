"""Any set-up at any place on any day: what is fast agrees with what is whole, and nothing falls over."""

import unittest
from dataclasses import replace
from datetime import date, datetime, time, timedelta
from itertools import pairwise
from zoneinfo import ZoneInfo

from hypothesis import given
from hypothesis import strategies as st

from noggin.core.clock import MINUTE, apart, later
from noggin.core.daylight.day import light_span, stretches, sun_day, turns
from noggin.core.daylight.forecast import DAY_ZONES, SURROUNDINGS, Surroundings, TimedReading
from noggin.core.daylight.place import Moment, Place
from noggin.core.planning.plan import plan, work_out
from noggin.core.planning.verdicts import NOT_NEEDED, SHORT
from noggin.core.planning.ways import WAYS
from noggin.core.shoot.ladder import by_clock, ladder
from noggin.core.shoot.timeline import (
    Placement,
    Slot,
    best_span,
    lacking_at,
    planned,
    setup_at,
    timeline,
    verdict_at,
)
from noggin.core.shoot.timetable import charges, checks
from noggin.core.tables import GROUNDS, SKIES
from tests.support import fewer, setups

ZONES_OF_EARTH = ("Europe/Madrid", "America/Santiago", "Pacific/Apia", "Asia/Kolkata", "UTC")


@st.composite
def places(draw: st.DrawFn) -> Place:
    """Anywhere, the camera looking any way or none that is said."""
    return Place(
        draw(st.floats(-89, 89)),
        draw(st.floats(-180, 180)),
        draw(st.sampled_from(list(SKIES))),
        draw(st.sampled_from(list(GROUNDS))),
        draw(st.none() | st.floats(0, 360)),
    )


@st.composite
def slots(draw: st.DrawFn) -> Slot:
    """Any set-up on any day, with or without readings of its own or of the day."""
    place = draw(places())
    zone = ZoneInfo(draw(st.sampled_from(ZONES_OF_EARTH)))
    day = draw(st.dates(date(2027, 1, 1), date(2027, 12, 31)))
    clock = time(draw(st.integers(0, 23)), draw(st.sampled_from([0, 25, 50])))
    start = datetime.combine(day, clock, zone).astimezone(ZoneInfo("UTC")).astimezone(zone)
    setup = draw(setups())
    moment = draw(st.none() | st.just(Moment(place, later(start, draw(st.integers(-90, 90)) * MINUTE))))
    taken = [
        TimedReading(later(start, minutes * MINUTE), zone_read, ev)
        for minutes, zone_read, ev in draw(
            st.lists(
                st.tuples(st.integers(-300, 300), st.sampled_from(list(DAY_ZONES)), st.floats(-5, 17)),
                max_size=2,
            )
        )
    ]
    spot = Surroundings(
        draw(st.sampled_from(list(SURROUNDINGS))),
        draw(st.none() | st.times()),
        draw(st.none() | st.times()),
    )
    scene = replace(setup.scene, moment=moment)
    placement = Placement(replace(setup, scene=scene), place, day, zone, spot, tuple(taken))
    return Slot(placement, start, draw(st.sampled_from([5, 20, 90])))


class AnyDay(unittest.TestCase):
    @fewer(25)
    @given(slots(), st.sampled_from(list(WAYS)))
    def test_a_verdict_is_what_working_the_way_out_says(self, slot: Slot, key: str) -> None:
        kind = WAYS[key]
        there = verdict_at(slot.placement, kind, slot.start)
        way = work_out(setup_at(slot.placement, slot.start), kind)
        self.assertEqual(there.verdict, way.verdict)
        self.assertEqual(there.works, way.feasible)
        if there.verdict != NOT_NEEDED:
            self.assertEqual(there.reserve is None, way.reserve is None)
            if way.reserve is not None:
                self.assertAlmostEqual(there.reserve or 0.0, way.reserve, places=9)
        if there.verdict == SHORT:
            self.assertEqual(lacking_at(slot.placement, kind, slot.start).misses, way.misses)

    @fewer(25)
    @given(slots())
    def test_in_another_light_it_is_the_set_up_made_anew(self, slot: Slot) -> None:
        moved = setup_at(slot.placement, slot.start)
        anew = replace(slot.setup, scene=moved.scene)
        self.assertEqual(moved, anew)
        self.assertEqual(plan(moved), plan(anew))
        self.assertEqual(planned(slot), plan(anew).shown)

    @fewer(8)
    @given(slots(), st.sampled_from(list(WAYS)))
    def test_a_timeline_runs_from_first_to_last_and_changes_within_a_minute(
        self, slot: Slot, key: str
    ) -> None:
        first, last = later(slot.start, -400 * MINUTE), later(slot.start, 400 * MINUTE)
        kind = WAYS[key]
        line = timeline(slot.placement, kind, first, last)
        self.assertEqual((line[0].time, line[-1].time), (first, last))
        for before, after in pairwise(line):
            self.assertGreater(apart(before.time, after.time), timedelta(0))
            if before.verdict != after.verdict:
                self.assertEqual(apart(before.time, after.time), MINUTE)
        span = best_span(slot, kind, 0.0, first, last)
        held = [one for one in line if one.holds(0.0)]
        self.assertEqual(span is not None, bool(held))
        if span:
            self.assertTrue(verdict_at(slot.placement, kind, span.start).holds(0.0))
            self.assertTrue(verdict_at(slot.placement, kind, span.end).holds(0.0))

    @fewer(8)
    @given(slots(), st.sampled_from([1 / 3, 1 / 2]))
    def test_a_ladder_says_something_of_every_rung(self, slot: Slot, step: float) -> None:
        setup, way = setup_at(slot.placement, slot.start), planned(slot)
        rungs = ladder(setup, way, step)
        self.assertTrue(any(rung.planned for rung in rungs))
        for rung in (*rungs, *by_clock(slot, [slot.start, slot.end])):
            self.assertTrue(rung.power)
            self.assertTrue(rung.way.feasible or rung.lost)
            other = rung.way.key != way.key or rung.way.settings.stack != way.settings.stack
            self.assertEqual(rung.changed, other)

    @fewer(10)
    @given(st.lists(slots(), max_size=3))
    def test_checks_are_words_about_set_ups_of_the_day(self, day: list[Slot]) -> None:
        for check in checks(day, {}, packed=True):
            self.assertRegex(check.words, r"\.$")
            self.assertTrue(all(0 <= at < len(day) for at in check.slots))
        self.assertTrue(all(share >= 0 for share in charges(day).values()))

    @fewer(15)
    @given(places(), st.dates(date(1950, 1, 1), date(2090, 1, 1)), st.sampled_from(ZONES_OF_EARTH))
    def test_every_day_has_a_sun(self, place: Place, day: date, name: str) -> None:
        zone = ZoneInfo(name)
        sun = sun_day(place.lat, place.lon, day, zone)
        self.assertIn("highest at", sun.words)
        self.assertEqual(bool(sun.stays), sun.rise is None and sun.set is None)
        first, last = light_span(place.lat, place.lon, day, zone)
        self.assertLess(first, last)
        parts = stretches(place.lat, place.lon, day, zone, first, last)
        self.assertEqual((parts[0].start, parts[-1].end), (first, last))
        for _, words in turns(place.lat, place.lon, day, zone, place.facing_deg or 0.0):
            self.assertTrue(words)
