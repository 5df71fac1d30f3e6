"""A set-up through the day: zones that follow the light, ladders, best times, held to their laws."""

import unittest
from dataclasses import replace
from datetime import date, datetime, time, timedelta
from itertools import pairwise
from zoneinfo import ZoneInfo

from hypothesis import given
from hypothesis import strategies as st

from noggin.core.clock import MINUTE, apart, later
from noggin.core.daylight.forecast import UNDER_TREES, Surroundings, TimedReading, forecast
from noggin.core.daylight.place import Moment, Place
from noggin.core.daylight.sky import daylight
from noggin.core.physics.filters import Filter
from noggin.core.planning.plan import plan, work_out
from noggin.core.planning.verdicts import HOLDS, JUST, NOT_NEEDED, SHORT
from noggin.core.planning.ways import ND, WAYS
from noggin.core.setup.scene import Baseline
from noggin.core.shoot.ladder import BRIGHTER, DARKER, by_clock, ladder, shifted
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
from tests.support import LIGHT, fewer, noon

ZONE = ZoneInfo("Europe/Madrid")
DAY = date(2027, 6, 19)
PLACE = Place(42.46, 0.71, facing_deg=165.0)


def at(clock: str, day: date = DAY) -> datetime:
    """An instant of the day by its clock."""
    return datetime.combine(day, time.fromisoformat(clock), ZONE)


FIRST, LAST = at("04:30"), at("23:00")
READ = Moment(PLACE, at("13:10"))
BAG = (Filter("3-stop ND", 3, 3), Filter("6-stop ND", 6, 6))


def placement(**changes: object) -> Placement:
    """The noon couple at the place, its zones read at ten past one."""
    setup = noon(moment=READ, filters=BAG, **changes)
    return Placement(setup, PLACE, DAY, ZONE)


class Zones(unittest.TestCase):
    def test_at_its_own_time_a_zone_is_what_it_was(self) -> None:
        for known in (placement(), replace(placement(), past=False), placement(background_uncertainty=1.0)):
            then = setup_at(known, at("13:10")).scene
            self.assertEqual((then.background, then.subject), (14.6, 12.0))
        self.assertEqual(setup_at(placement(), at("13:10")).scene.background_uncertainty, 0.3)

    def test_it_moves_with_the_forecast_and_is_less_sure(self) -> None:
        for clock in ("09:00", "17:30", "20:45"):
            then = setup_at(placement(), at(clock)).scene
            before, after = (
                forecast(PLACE, at("13:10"), Surroundings()),
                forecast(PLACE, at(clock), Surroundings()),
            )
            self.assertAlmostEqual(then.background - 14.6, after.background - before.background)
            self.assertAlmostEqual(then.subject - 12.0, after.subject - before.subject)
            self.assertGreater(then.background_uncertainty, 0.3)
            assert then.moment
            self.assertEqual(then.moment.time, at(clock))

    def test_a_reading_ages_in_three_hours_to_the_forecast(self) -> None:
        # Domain: the shift and its age are shown; ± of a reading is 0.3 (measured), of a clear sky 0.5.
        known = [
            setup_at(placement(), at(clock)).scene.background_uncertainty
            for clock in ("13:10", "14:40", "16:10")
        ]
        self.assertAlmostEqual(known[1], (0.3**2 + 0.25**2) ** 0.5)
        self.assertAlmostEqual(known[2], (0.3**2 + 0.5**2) ** 0.5)

    def test_what_is_known_of_the_scene_goes_along_from_another_day(self) -> None:
        tomorrow = at("13:10", DAY + timedelta(days=1))
        then = setup_at(replace(placement(), day=DAY + timedelta(days=1)), tomorrow).scene
        self.assertAlmostEqual(then.background, 14.6, delta=0.02)  # the sun of two days in June
        self.assertGreaterEqual(then.background_uncertainty, 0.5)

    def test_without_a_time_or_from_elsewhere_it_is_the_forecast(self) -> None:
        here = forecast(PLACE, at("13:10"), Surroundings())
        elsewhere = noon(moment=Moment(replace(PLACE, lat=40.0), at("13:10")))
        for setup in (noon(), elsewhere):
            then = setup_at(replace(placement(), setup=setup), at("13:10")).scene
            self.assertEqual((then.background, then.subject), (here.background, here.subject))
            self.assertEqual(then.baseline, None)

    def test_another_sky_moves_it_by_what_the_forecasts_differ(self) -> None:
        cloudy = replace(placement(), place=replace(PLACE, sky="overcast"))
        grey, clear = (forecast(where, at("13:10"), Surroundings()) for where in (cloudy.place, PLACE))
        moved = setup_at(cloudy, at("13:10")).scene.background - 14.6
        self.assertAlmostEqual(moved, grey.background - clear.background)
        self.assertLess(moved, -1)

    def test_a_reading_of_the_day_shifts_what_was_expected_and_not_what_was_read_after_it(self) -> None:
        unfaced = replace(PLACE, facing_deg=None)
        taken = (TimedReading(at("12:00"), "shaded", daylight(unfaced, at("12:00")).shaded - 0.8),)
        read = replace(placement(), readings=taken)
        expected = replace(read, past=False)
        self.assertAlmostEqual(setup_at(read, at("13:10")).scene.background, 14.6)
        self.assertAlmostEqual(setup_at(expected, at("13:10")).scene.background, 13.8)
        self.assertAlmostEqual(setup_at(expected, at("11:50")).scene.background, self.plain("11:50"))
        # From half past twelve on both are surer of the light than the forecast alone.
        self.assertLess(setup_at(expected, at("12:30")).scene.background_uncertainty, 0.5)

    def plain(self, clock: str) -> float:
        return setup_at(placement(), at(clock)).scene.background

    def test_light_that_was_taken_stands_as_it_was_taken(self) -> None:
        # What a set-up was moved to says what it was moved from: moving twice is moving once.
        evening = setup_at(placement(), at("19:00"))
        self.assertEqual(evening.scene.baseline, Baseline(at("13:10"), "clear", 14.6, 12.0))
        moved = replace(placement(), setup=evening)
        self.assertEqual(setup_at(moved, at("19:00")), evening)
        self.assertEqual(setup_at(moved, at("21:00")), setup_at(placement(), at("21:00")))

    def test_the_picture_in_another_light_is_the_set_up_made_anew(self) -> None:
        moved = setup_at(placement(sky=15.0), at("19:00"))
        anew = replace(placement(sky=15.0).setup, scene=moved.scene)
        self.assertEqual((moved, hash(moved)), (anew, hash(anew)))
        self.assertEqual(plan(moved), plan(anew))

    def test_zones_that_are_not_in_the_picture_stay_out_and_the_rim_goes_with_the_sun(self) -> None:
        self.assertIsNone(setup_at(placement(), at("17:00")).scene.sky)
        backlit = placement(rim=15.6)
        self.assertIsNotNone(setup_at(backlit, at("14:00")).scene.rim)
        self.assertIsNone(setup_at(backlit, at("22:30")).scene.rim)


class SurroundingsOfAPicture(unittest.TestCase):
    def test_shade_comes_and_goes_by_the_clock(self) -> None:
        front = replace(PLACE, facing_deg=345.0)  # the sun over the photographer's shoulder at noon
        shaded = Surroundings("shade", time(14), time(16, 30))
        for clock, inside in (("13:55", False), ("14:00", True), ("16:25", True), ("16:30", False)):
            there = forecast(front, at(clock), shaded)
            open_ground = forecast(front, at(clock), Surroundings())
            self.assertEqual(there.in_shade, inside, clock)
            self.assertEqual(there.subject < open_ground.subject, inside, clock)
            self.assertEqual(there.background, open_ground.background)
        self.assertTrue(forecast(front, at("12:00"), Surroundings("shade")).in_shade)
        self.assertEqual(
            list(shaded.turns(DAY, ZONE)), [(at("14:00"), "shade comes"), (at("16:30"), "shade goes")]
        )

    def test_trees_take_a_stop_from_open_shade(self) -> None:
        shade, trees = (forecast(PLACE, at("12:00"), Surroundings(kind)) for kind in ("shade", "trees"))
        self.assertAlmostEqual(shade.subject - trees.subject, UNDER_TREES)
        self.assertGreater(trees.uncertainty, forecast(PLACE, at("12:00"), Surroundings()).uncertainty)

    @given(shift=st.floats(-3, 3), zone=st.sampled_from(["sunlit", "shaded", "sky"]))
    def test_a_reading_shifts_the_rest_of_the_day_and_nothing_before_it(
        self, shift: float, zone: str
    ) -> None:
        # Domain: one reading at a known time shifts the whole curve by reading less estimate.
        unfaced = replace(PLACE, facing_deg=None)
        read = getattr(daylight(unfaced, at("11:00")), zone) + shift
        taken = (TimedReading(at("11:00"), zone, read),)
        for clock, expected in (("10:55", 0.0), ("11:00", shift), ("18:00", shift)):
            with_it, without = (
                forecast(PLACE, at(clock), Surroundings(), readings) for readings in (taken, ())
            )
            for side in ("background", "subject", "sky"):
                self.assertAlmostEqual(getattr(with_it, side) - getattr(without, side), expected)
        fresh, old = (
            forecast(PLACE, at(clock), Surroundings(), taken).uncertainty for clock in ("11:00", "13:30")
        )
        self.assertAlmostEqual(fresh, 0.3)
        self.assertLess(fresh, old)


class Timelines(unittest.TestCase):
    def test_every_change_of_verdict_is_known_to_the_minute(self) -> None:
        line = timeline(placement(), ND, FIRST, LAST)
        self.assertEqual((line[0].time, line[-1].time), (FIRST, LAST))
        # Two fixed filters leave a gap that no time within sync and slowest fills.
        self.assertEqual({timed.verdict for timed in line}, {NOT_NEEDED, HOLDS, JUST, SHORT})
        changes = [pair for pair in pairwise(line) if pair[0].verdict != pair[1].verdict]
        self.assertGreater(len(changes), 3)
        for before, after in changes:
            self.assertEqual(apart(before.time, after.time), MINUTE)
        for timed in line:
            way = work_out(setup_at(placement(), timed.time), ND)
            self.assertEqual(way.verdict, timed.verdict)
            if timed.verdict == HOLDS:
                self.assertAlmostEqual(way.reserve or 0.0, timed.reserve or 0.0)

    def test_no_verdict_hides_between_the_points_of_the_line(self) -> None:
        for key in ("within_sync", "nd", "hss", "stop_down"):
            line = timeline(placement(), WAYS[key], FIRST, LAST)
            for minutes in range(3, 1110, 13):
                instant = later(FIRST, minutes * MINUTE)
                drawn = max(
                    (timed for timed in line if timed.time <= instant), key=lambda timed: timed.time
                )
                following = min(
                    (timed for timed in line if timed.time >= instant), key=lambda timed: timed.time
                )
                there = verdict_at(placement(), WAYS[key], instant).verdict
                self.assertIn(there, {drawn.verdict, following.verdict}, (key, instant))

    def test_a_weak_light_holds_only_at_the_ends_of_the_day(self) -> None:
        weak = placement(lights=(replace(LIGHT, gn_m=14, hss_toll=None),))
        line = timeline(weak, ND, FIRST, LAST)
        self.assertEqual(verdict_at(weak, ND, at("13:00")).verdict, SHORT)
        # Daylight is held as it is meant, and the light that is too weak is named.
        self.assertEqual([miss.kind for miss in lacking_at(weak, ND, at("13:00")).misses], ["flash"])
        self.assertIn(HOLDS, {timed.verdict for timed in line})


class WithLamps(unittest.TestCase):
    def test_when_the_sun_goes_the_lamps_stay(self) -> None:
        lit = placement(background=13.0, subject=11.0, lamps_background=4.0, lamps_subject=2.0)
        night = setup_at(lit, at("23:30")).scene
        self.assertAlmostEqual(night.background, 4.0, delta=0.1)
        self.assertAlmostEqual(night.subject, 2.0, delta=0.1)
        unlit = setup_at(placement(background=13.0, subject=11.0), at("23:30")).scene
        self.assertLess(unlit.background, -2)
        # By day they do not count.
        day = setup_at(lit, at("14:00")).scene.background
        without = setup_at(placement(background=13.0, subject=11.0), at("14:00")).scene.background
        self.assertAlmostEqual(day, without, delta=0.01)


class BestTime(unittest.TestCase):
    @fewer(15)
    @given(
        gn=st.sampled_from([20.0, 28.0, 36.0, 60.0]),
        least=st.sampled_from([0.0, 1 / 3, 1.0, 2.0]),
        start=st.sampled_from(["07:00", "13:00", "18:00", "21:00"]),
    )
    def test_it_holds_inside_to_the_minute_and_not_beside(
        self, gn: float, least: float, start: str
    ) -> None:
        here = placement(lights=(replace(LIGHT, gn_m=gn),))
        slot = Slot(here, at(start), 25)
        span = best_span(slot, ND, least, FIRST, LAST)
        if span is None:
            line = timeline(here, ND, FIRST, LAST)
            self.assertFalse(any(timed.holds(least) for timed in line))
            return
        for minute, holds in (
            (span.start, True),
            (span.end, True),
            (later(span.start, -MINUTE), False),
            (later(span.end, MINUTE), False),
        ):
            if FIRST <= minute <= LAST:
                self.assertEqual(verdict_at(here, ND, minute).holds(least), holds, minute)

    def test_the_nearest_of_two_spans_is_offered(self) -> None:
        weak = placement(lights=(replace(LIGHT, gn_m=14, hss_toll=None),))
        morning, evening = (
            best_span(Slot(weak, at(start), 15), ND, 0.0, FIRST, LAST) for start in ("08:00", "20:00")
        )
        assert morning
        assert evening
        self.assertLess(morning.end, at("12:00"))
        self.assertGreater(evening.start, at("17:00"))


class Ladders(unittest.TestCase):
    def test_it_goes_from_two_stops_brighter_to_four_darker_in_its_steps(self) -> None:
        way = planned(Slot(placement(), at("13:10"), 25))
        for step, count in ((1 / 3, 19), (1 / 2, 13)):
            rungs = ladder(placement().setup, way, step)
            self.assertEqual(len(rungs), count)
            self.assertAlmostEqual(rungs[0].shift, BRIGHTER)
            self.assertAlmostEqual(rungs[-1].shift, -DARKER)
            (own,) = (rung for rung in rungs if rung.planned)
            self.assertEqual((own.way.settings, own.power, own.changed), (way.settings, "stays", False))

    def test_it_ends_where_there_is_no_such_light(self) -> None:
        dark = noon(background=-8.5, subject=-9.0)
        shifts = [rung.shift for rung in ladder(dark, plan(dark).ways[0])]
        self.assertAlmostEqual(min(shifts), -1.0)

    def test_at_sync_the_shutter_follows_and_the_power_stays(self) -> None:
        # Domain, order of work: at or under sync the shutter follows the ambient and the flash stays.
        setup = noon(background=8.0, subject=6.0, slowest_s=1 / 8, lights=(replace(LIGHT, gn_m=14),))
        way = plan(setup).chosen
        assert way
        self.assertEqual(way.key, "within_sync")
        for rung in ladder(setup, way):
            same = rung.way.key == "within_sync" and rung.way.settings.iso == way.settings.iso
            if same and rung.way.feasible:
                moved = rung.way.settings.shutter.stops - way.settings.shutter.stops
                self.assertAlmostEqual(moved, rung.shift)
                self.assertEqual(rung.way.settings.aperture, way.settings.aperture)
                self.assertEqual(rung.power, "stays")

    def test_in_high_speed_sync_power_follows_the_shutter_stop_for_stop(self) -> None:
        # Domain: in HSS each stop longer also gives a stop more flash.
        setup = noon(filters=(), prefer="speed")
        way = plan(setup).chosen
        assert way
        self.assertEqual(way.key, "hss")
        was = way.lighting.key.down
        assert was is not None
        compared = 0
        for rung in ladder(setup, way):
            down = rung.way.lighting.key.down
            if rung.way.key == "hss" and rung.way.feasible and down is not None:
                self.assertAlmostEqual(down - was, -rung.shift, delta=0.34)
                compared += 1
        self.assertGreater(compared, 8)

    def test_where_a_filter_comes_off_the_power_follows_it(self) -> None:
        # On a body without high-speed sync, which would else come before a filter.
        setup = noon(filters=BAG, hss=False)
        way = plan(setup).chosen
        assert way
        self.assertEqual(way.settings.stack.names, ("6-stop ND",))
        same_way = [rung for rung in ladder(setup, way) if rung.way.key == "nd"]
        off = next(rung for rung in same_way if rung.way.settings.stack.names == ("3-stop ND",))
        self.assertTrue(off.changed)
        # Three stops of filter less: what the filter took from the flash comes back.
        self.assertRegex(off.power, r"^(3|2\.7|3\.3) stops down$")

    def test_a_rung_is_what_planning_that_light_would_give_or_as_good(self) -> None:
        setup = noon(filters=BAG)
        way = plan(setup).chosen
        assert way
        for rung in ladder(setup, way):
            fresh = plan(shifted(setup, rung.shift)).chosen
            self.assertEqual(rung.way.feasible, fresh is not None or rung.way.feasible)
            if fresh is not None:
                self.assertTrue(rung.way.feasible, rung.shift)
            if not rung.way.feasible:
                self.assertTrue(rung.lost)

    def test_by_the_clock_it_starts_from_the_plan(self) -> None:
        slot = Slot(placement(), at("13:10"), 25)
        rungs = by_clock(slot, [at("13:10"), at("18:00"), at("22:00")])
        self.assertEqual(rungs[0].way.settings, planned(slot).settings)
        self.assertEqual([rung.time for rung in rungs], [at("13:10"), at("18:00"), at("22:00")])
        self.assertLess(rungs[2].shift, -8)
        self.assertEqual(rungs[2].way.key, "within_sync")
