"""What to go through before the first frame: made from the set-up and the way, each check where it
belongs and not where it does not."""

import unittest
from dataclasses import replace

from noggin.core.advice.preflight import HIGH_M, preflight
from noggin.core.physics.battery import Battery
from noggin.core.physics.wind import Stand
from noggin.core.planning.plan import work_out
from noggin.core.planning.ways import WAYS
from noggin.core.setup.setup import SetUp
from tests.support import LIGHT, noon


def checks(setup: SetUp, way: str = "nd") -> dict[str, str]:
    """What each check asks, by its key."""
    return {
        check.key: f"{check.does} {check.why}" for check in preflight(setup, work_out(setup, WAYS[way]))
    }


class Preflight(unittest.TestCase):
    def test_the_filter_goes_on_after_focusing_or_stays_off(self) -> None:
        self.assertIn("Compose and focus, then filter on: 6-stop ND", checks(noon())["filter"])
        self.assertIn("No filter on the lens", checks(noon(), "hss")["filter"])
        self.assertNotIn("filter", checks(noon(filters=()), "hss"))

    def test_high_speed_sync_is_on_past_sync_and_off_within(self) -> None:
        self.assertIn("High-speed sync on", checks(noon(), "hss")["hss"])
        self.assertIn("High-speed sync off", checks(noon())["hss"])
        self.assertNotIn("hss", checks(noon(hss=False)))

    def test_each_light_with_its_power_group_and_channel(self) -> None:
        said = checks(noon(lights=(replace(LIGHT, group="B", channel=7),)))["light-0"]
        power = work_out(noon(), WAYS["nd"]).lighting.key.power_words
        for part in ("Large head", power, "2.5 m", "group B", "channel 7"):
            self.assertIn(part, said)

    def test_a_light_that_stays_off_is_told_to(self) -> None:
        without = replace(LIGHT, role="fill", name="Second", hss_toll=None)
        self.assertIn("stays off", checks(noon(lights=(LIGHT, without)), "hss")["light-1"])

    def test_ballast_where_a_gust_is_known(self) -> None:
        light = replace(LIGHT, radius_m=0.45, stand=Stand(2.0, 0.5))
        self.assertNotIn("ballast-0", checks(noon(lights=(light,))))
        self.assertIn("kg on its stand", checks(noon(lights=(light,), gust_m_s=8.0))["ballast-0"])

    def test_a_high_stand_has_someone_beside_it(self) -> None:
        for height, asked in ((HIGH_M, False), (HIGH_M + 0.1, True)):
            light = replace(LIGHT, stand=Stand(height, 0.5))
            self.assertEqual("helper" in checks(noon(lights=(light,))), asked)

    def test_the_battery_by_the_frames_that_are_wanted(self) -> None:
        light = replace(LIGHT, battery=Battery(100, 1.0))
        self.assertIn("battery charged", checks(noon(lights=(light,), frames=20))["battery-0"])
        self.assertIn("spare battery", checks(noon(lights=(light,), frames=5000))["battery-0"])

    def test_held_by_hand_only_where_the_time_is_short(self) -> None:
        self.assertNotIn("hold", checks(noon()))
        self.assertIn("stabiliser off", checks(noon(support="tripod"))["hold"])


if __name__ == "__main__":
    unittest.main()
