"""Daylight against reference libraries: pvlib's NREL SPA for the sun, Haurwitz for the clear sky."""

import unittest
import warnings
from datetime import UTC, date, datetime, timedelta
from math import cos, degrees, hypot, radians, remainder, sin
from zoneinfo import ZoneInfo

from noggin.core import tables

with warnings.catch_warnings():
    warnings.simplefilter("ignore")  # what pvlib's own imports warn of is theirs
    import pandas as pd
    from pvlib.clearsky import haurwitz
    from pvlib.solarposition import get_solarposition

from hypothesis import given
from hypothesis import strategies as st

from noggin.core.clock import instants
from noggin.core.daylight import sky
from noggin.core.daylight.forecast import (
    Surroundings,
    TimedReading,
    day_light,
    forecast,
    with_lamps,
    without_lamps,
)
from noggin.core.daylight.place import Place
from noggin.core.daylight.sky import day_of_light, illuminance
from noggin.core.daylight.sun import sun_at
from noggin.core.errors import OutOfRange, Refused
from noggin.core.physics.metering import CARD, incident_ev
from noggin.core.tables import SKIES

PLACES = [
    (0.0, 0.0),
    (42.46, 0.71),
    (-45.03, 168.66),
    (59.9, 10.7),
    (64.1, -21.9),
    (69.65, 18.96),
    (78.22, 15.65),
    (-77.85, 166.67),
    (21.3, 179.99),
    (-13.8, -179.99),
    (90.0, 0.0),
    (-90.0, 0.0),
]
"""Latitudes and longitudes: equator, tropics, both hemispheres, polar day and night, date line, poles."""


class Sun(unittest.TestCase):
    def test_agrees_with_the_nrel_algorithm_within_a_tenth_of_a_degree(self) -> None:
        # Reda and Andreas 2004 as implemented in pvlib; geometric elevation, great-circle distance.
        times = pd.date_range("2027-01-01", "2028-01-01", freq="59h", tz="UTC")
        self.assertGreater(len(times), 140)
        for lat, lon in PLACES:
            reference = get_solarposition(times, lat, lon, method="nrel_numpy")
            worst, compared = 0.0, 0
            for time, height, azimuth in zip(
                times, reference["elevation"], reference["azimuth"], strict=True
            ):
                if height <= -10:
                    continue
                ours, compared = sun_at(lat, lon, time.to_pydatetime()), compared + 1
                aside = remainder(ours.azimuth_deg - azimuth, 360) * cos(radians(height))
                worst = max(worst, hypot(ours.height_deg - height, aside))
            with self.subTest(lat=lat, lon=lon, compared=compared):
                self.assertGreater(compared, 60)
                self.assertLess(worst, 0.1)

    def test_polar_day_and_night(self) -> None:
        zone = ZoneInfo("Arctic/Longyearbyen")
        place = Place(78.22, 15.65)
        summer = [row.sun.height_deg for row in day_of_light(place, date(2027, 6, 21), zone)]
        winter = [row.sun.height_deg for row in day_of_light(place, date(2027, 12, 21), zone)]
        self.assertGreater(min(summer), 11)  # 90 − 78.2 − 23.4 to 90 + …: never sets
        self.assertLess(max(winter), -11)  # never rises

    def test_the_same_instant_is_the_same_sun_in_any_zone(self) -> None:
        instant = datetime(2027, 3, 28, 0, 59, tzinfo=UTC)
        for name in ("Europe/Madrid", "Asia/Kolkata", "Pacific/Apia"):
            self.assertEqual(sun_at(10, 20, instant), sun_at(10, 20, instant.astimezone(ZoneInfo(name))))


class Days(unittest.TestCase):
    def count(self, day: date, zone: str) -> int:
        times = list(instants(day, ZoneInfo(zone)))
        self.assertTrue(all(time.date() == day for time in times))
        self.assertLessEqual({t.astimezone(UTC).minute % 15 for t in times}, {0})
        return len(times)

    def test_quarter_hours_of_days_with_and_without_a_clock_change(self) -> None:
        self.assertEqual(self.count(date(2027, 6, 19), "Europe/Madrid"), 96)
        self.assertEqual(self.count(date(2027, 3, 28), "Europe/Madrid"), 92)
        self.assertEqual(self.count(date(2027, 10, 31), "Europe/Madrid"), 100)
        self.assertEqual(self.count(date(2027, 4, 4), "Australia/Lord_Howe"), 98)  # half an hour

    def test_a_day_that_starts_at_one_and_a_day_that_never_was(self) -> None:
        sao_paulo = list(instants(date(2018, 11, 4), ZoneInfo("America/Sao_Paulo")))
        self.assertEqual((len(sao_paulo), sao_paulo[0].hour), (92, 1))
        self.assertEqual(self.count(date(2011, 12, 30), "Pacific/Apia"), 0)

    def test_offsets_are_written_out(self) -> None:
        times = [time.isoformat() for time in instants(date(2027, 10, 31), ZoneInfo("Europe/Madrid"))]
        self.assertEqual(len(set(times)), 100)
        self.assertIn("2027-10-31T02:15:00+02:00", times)
        self.assertIn("2027-10-31T02:15:00+01:00", times)

    def test_what_cannot_be_is_refused(self) -> None:
        with self.assertRaises(OutOfRange):
            list(instants(date(2027, 6, 19), UTC, 0))
        for wrong in ({"lat": 91}, {"lon": float("nan")}, {"facing_deg": -1}):
            with self.subTest(wrong), self.assertRaises(OutOfRange):
                Place(wrong.get("lat", 0), wrong.get("lon", 0), facing_deg=wrong.get("facing_deg"))
        with self.assertRaises(Refused):
            Place(0, 0, sky="purple")


class Sky(unittest.TestCase):
    def test_clear_sky_agrees_with_haurwitz(self) -> None:
        # Haurwitz 1945 as implemented in pvlib; luminous efficacy of global radiation about 110 lm/W.
        for height in range(10, 76):
            direct, diffuse = illuminance(height, SKIES["clear"])
            level = 1000 * (direct * sin(radians(height)) + diffuse)
            irradiance = haurwitz(pd.Series([90.0 - height]))["ghi"].iloc[0]
            self.assertAlmostEqual(level / (110 * irradiance), 1, delta=0.07, msg=str(height))

    def test_air_mass_at_the_horizon(self) -> None:
        # Kasten and Young 1989: about 38 at the horizon.
        self.assertAlmostEqual(sky.air_mass(0), 37.9, delta=0.2)

    def test_twilight_anchors(self) -> None:
        # Explanatory Supplement (1992), from memory: 759 lx at 0° clear, 300 lx otherwise, 0.008 at −12°.
        self.assertAlmostEqual(1000 * sky.twilight(0, SKIES["clear"]), 759, delta=2)
        self.assertAlmostEqual(1000 * sky.twilight(0, SKIES["overcast"]), 300, delta=3)
        self.assertAlmostEqual(1000 * sky.twilight(-12, SKIES["clear"]), 0.008, delta=0.0005)

    @given(
        st.sampled_from(list(SKIES.values())),
        st.floats(-25, 89.4) | st.sampled_from([-18.0, -12.0, -5.0, -0.8, 0.0, 5.0]),
    )
    def test_the_curve_rises_with_the_sun_and_never_jumps(self, sky: tables.Sky, height: float) -> None:
        def level(at: float) -> float:
            direct, diffuse = illuminance(at, sky)
            return incident_ev(1000 * (direct * max(0.0, sin(radians(at))) + diffuse))

        # The published fits meet within 0.02 stops where one follows the other.
        just_under, just_over = level(height - 0.0005), level(height + 0.0005)
        self.assertAlmostEqual(just_under, just_over, delta=0.02)
        self.assertGreater(level(height + 0.5) - level(height), -1e-9 if height > -18.5 else -0.01)

    def test_sky_and_sides_in_the_order_a_photographer_meets_them(self) -> None:
        # Sanity of the trade: overcast has a sky some three stops over the subject.
        rows = day_of_light(Place(42.46, 0.71, "overcast"), date(2027, 6, 19), ZoneInfo("Europe/Madrid"))
        noon = max(rows, key=lambda row: row.sun.height_deg)
        self.assertAlmostEqual(noon.sky - noon.shaded, 3, delta=0.5)
        self.assertEqual(noon.sunlit, noon.shaded)

    def test_facing_the_sun_the_subjects_near_side_is_in_shade(self) -> None:
        time = datetime(2027, 6, 19, 8, tzinfo=UTC)
        azimuth = sun_at(42.46, 0.71, time).azimuth_deg
        into = sky.daylight(Place(42.46, 0.71, facing_deg=azimuth), time)
        away = sky.daylight(Place(42.46, 0.71, facing_deg=(azimuth + 180) % 360), time)
        free = sky.daylight(Place(42.46, 0.71), time)
        self.assertAlmostEqual(into.sunlit, into.shaded)
        self.assertAlmostEqual(away.sunlit, free.sunlit)
        self.assertAlmostEqual(away.shaded, into.shaded)

    def test_snow_lifts_the_shade_and_night_says_how_little_is_known(self) -> None:
        time = datetime(2027, 6, 19, 11, tzinfo=UTC)
        snow, grass = (sky.daylight(Place(42.46, 0.71, ground=g), time) for g in ("snow", "grass"))
        self.assertGreater(snow.shaded - grass.shaded, 0.8)
        night = sky.daylight(Place(42.46, 0.71), datetime(2027, 6, 19, 0, tzinfo=UTC))
        self.assertEqual(night.uncertainty, sky.NIGHT_UNCERTAINTY)

    def test_an_18_percent_card_reads_sixty_hundredths_high(self) -> None:
        # ISO 2720 constants C = 330 and K = 12.5: mid-tone is 11.9 %.
        self.assertAlmostEqual(CARD, 0.60, places=2)


class Anchors(unittest.TestCase):
    def test_one_reading_shifts_the_day_and_grows_old(self) -> None:
        place, taken = Place(42.46, 0.71), datetime(2027, 6, 19, 10, tzinfo=UTC)
        now = sky.daylight(place, taken)
        reading = TimedReading(taken, "sunlit", now.sunlit - 0.8)
        read = day_light(place, taken, (reading,))
        self.assertAlmostEqual(read.sunlit, now.sunlit - 0.8)
        self.assertAlmostEqual(read.uncertainty, 0.3)
        for hours, share in ((1.5, 0.5), (3, 1), (4, 1)):
            time = taken + timedelta(hours=hours)
            shifted = day_light(place, time, (reading,))
            self.assertAlmostEqual(shifted.sky, sky.daylight(place, time).sky - 0.8)
            # ± 0.3 of a reading, and in three hours the whole ± 0.5 of a clear sky's estimate.
            self.assertAlmostEqual(shifted.uncertainty, hypot(0.3, 0.5 * share))

    def test_the_suns_path_turns_by_fifteen_degrees_an_hour_at_the_pole(self) -> None:
        start = datetime(2027, 6, 21, tzinfo=UTC)
        one, other = (sun_at(90, 0, start + timedelta(hours=h)).azimuth_deg for h in (3, 4))
        self.assertAlmostEqual(degrees(radians(other - one)), 15, delta=0.01)


class TowardTheSun(unittest.TestCase):
    """Within 30° of the sun the sky is 1 to 3 stops brighter. Common practice, no source."""

    def sky(self, off: float, kind: str = "clear") -> float:
        time = datetime(2027, 6, 19, 18, 0, tzinfo=ZoneInfo("Europe/Madrid"))
        azimuth = sun_at(42.46, 0.71, time).azimuth_deg
        place = Place(42.46, 0.71, kind, facing_deg=(azimuth + off) % 360)
        return forecast(place, time, Surroundings()).sky

    def test_by_how_much(self) -> None:
        away = self.sky(90)
        for off, more in ((0, 3.0), (15, 2.0), (-15, 2.0), (29.99, 1.0), (30.5, 0.0), (180, 0.0)):
            self.assertAlmostEqual(self.sky(off) - away, more, delta=0.01, msg=str(off))

    def test_not_under_overcast(self) -> None:
        self.assertAlmostEqual(self.sky(0, "overcast"), self.sky(90, "overcast"))


class Lamps(unittest.TestCase):
    """A zone is the sum of daylight and its lamps, and only its daylight moves with the sun."""

    def test_as_much_again_is_a_stop(self) -> None:
        self.assertAlmostEqual(with_lamps(4.0, 4.0), 5.0)
        self.assertAlmostEqual(without_lamps(5.0, 4.0), 4.0)
        self.assertEqual(without_lamps(4.0, 4.0), -10)  # nothing is left: the least there is

    @given(st.floats(-5, 15), st.floats(0, 6))
    def test_what_is_added_is_taken_off_again(self, day: float, lamps: float) -> None:
        together = with_lamps(day, lamps)
        self.assertGreaterEqual(together, max(day, lamps))
        # What the lamps outshine by ten stops is lost in them.
        if day > lamps - 10:
            self.assertAlmostEqual(without_lamps(together, lamps), day, delta=0.01)
