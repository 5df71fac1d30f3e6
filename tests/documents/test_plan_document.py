"""The plan document: every level can be recomputed from it and the set-up alone."""

import json
import math
import unittest
from math import log2
from typing import Any

from hypothesis import given

from noggin.core.advice.remedies import remedies
from noggin.core.planning.plan import plan
from noggin.core.setup.setup import SetUp
from noggin.documents.plan import plan_document
from tests.core.planning import reference
from tests.support import noon, setups

SHAPE = {
    "way", "verdict", "feasible", "misses", "lacks", "settings", "levels", "flash_share", "lights",
    "reserve", "focus",
    "cautions", "reasons", "remedies", "uncertainty", "tones", "motion", "drawbacks",
    "mend", "compensation",
}  # fmt: skip


def document(setup: SetUp) -> dict[str, Any]:
    """The plan document as a reader of the file sees it."""
    planned = plan(setup)
    found: dict[str, Any] = json.loads(plan_document(planned, remedies(planned)).model_dump_json())
    return found


class PlanDocument(unittest.TestCase):
    def test_shape(self) -> None:
        found = document(noon())
        self.assertEqual(list(found), ["format", "version", "name", "chosen", "ways"])
        self.assertEqual((found["format"], found["version"], found["chosen"]), ("noggin-plan", 1, "nd"))
        for way in found["ways"]:
            self.assertEqual(set(way), SHAPE)
        settings_found = found["ways"][0]["settings"]
        self.assertEqual(settings_found["shutter"], "1/200")
        self.assertAlmostEqual(settings_found["shutter_s"], 0.004921566601151848, places=15)
        self.assertEqual(settings_found["aperture_label"], "f/2")
        self.assertEqual((settings_found["iso"], settings_found["filters"]), (100, ["6-stop ND"]))

    def test_automatic_flash_gives_its_compensation_in_thirds(self) -> None:
        # The flash must give −0.118 over the daylight; the nearest third is 0.
        way = document(noon(school="auto"))["ways"][0]
        self.assertEqual(way["compensation"], 0)
        way = document(noon(school="auto", subject_level=-1.0))["ways"][0]
        self.assertAlmostEqual(way["compensation"], -4 / 3)

    def test_notes_are_carried_along(self) -> None:
        planned = plan(noon())
        found = plan_document(planned, remedies(planned), ["mine"])
        self.assertEqual(found.model_dump()["notes"], ["mine"])

    @given(setups())
    def test_levels_are_recomputed_from_settings_lights_and_set_up(self, setup: SetUp) -> None:
        found = document(setup)
        self.assertNotIn("NaN", json.dumps(found))
        for way in found["ways"]:
            dialled, levels = way["settings"], way["levels"]
            iso_thirds = round(3 * log2(dialled["iso"] / 100))
            taken = (
                log2(dialled["aperture"] ** 2 / dialled["shutter_s"]) - iso_thirds / 3 + dialled["nd_stops"]
            )
            scene = setup.scene
            self.assertAlmostEqual(levels["background_ambient"], scene.background - taken, places=6)
            self.assertAlmostEqual(levels["subject_ambient"], scene.subject - taken, places=6)
            if scene.sky is not None:
                self.assertAlmostEqual(levels["sky"], scene.sky - taken, places=6)
            flash = 0.0
            for light, fired in zip(setup.lights, way["lights"], strict=True):
                if fired["power"] is None:
                    continue
                level = 2 * log2(light.gn_m / light.distance_m) + log2(fired["power"] * light.count)
                level -= light.loss + log2(1 + (light.radius_m / light.distance_m) ** 2)
                level -= {None: 0.0, "quarter_cto": 0.3, "full_cto": 0.85}[light.gel]
                level += iso_thirds / 3 - 2 * log2(dialled["aperture"]) - dialled["nd_stops"]
                if not fired["hss"]:
                    share, fired_part = reference.caught(setup, light, -log2(dialled["shutter_s"])), 1.0
                    if light.pulse is None or light.pulse.head == "cut":
                        fired_part = fired["power"]
                    level += log2(min(share, fired_part) / fired_part)
                if fired["hss"]:
                    level -= (light.hss_toll or 0) + log2(setup.camera.sync.value / dialled["shutter_s"])
                self.assertAlmostEqual(fired["level"], level, places=6)
                if light.role in ("key", "fill"):
                    flash += 2**level
            daylight = 2 ** levels["subject_ambient"]
            self.assertAlmostEqual(levels["subject"], log2(daylight + flash), places=6)
            self.assertAlmostEqual(way["flash_share"], flash / (flash + daylight), places=6)
            if flash:
                self.assertTrue(math.isclose(levels["flash"], log2(flash), abs_tol=1e-6))
