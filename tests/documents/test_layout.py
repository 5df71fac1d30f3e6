"""`scene.layout`: in and out, one truth with the figures, and refused by name where both disagree."""

import unittest
from copy import deepcopy
from math import dist
from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from noggin.core.setup.layout import Layout
from noggin.documents.layout import LayoutDocument, layout_written
from noggin.documents.setup import canonical, setup_of
from noggin.forms.layout_change import canonical_with_layout, layout_in, with_layout
from tests.documents.test_setup_document import faults
from tests.support import NOON, fewer

PLAN: dict[str, Any] = {
    "camera": {"x_m": 0.0, "y_m": -3.2, "height_m": 1.4},
    "facing_deg": 200.0,
    "people": [
        {"x_m": 0.0, "y_m": 0.0, "height_m": 1.55, "turn_deg": 15.0, "skin": "deep", "wears": "dark suit"},
    ],
    "surfaces": [{"from": [1.5, -1.0], "to": [1.5, 2.0], "height_m": 2.4, "reflectance": 0.4}],
    # 2.5 m from the face, 45° to the camera's left, 0.45 m over the eyes: √(2.5² − 0.45²)/√2 = 1.7388.
    "lights": {"Large head": {"x_m": -1.739, "y_m": -1.739, "height_m": 2.0, "aim": None}},
}


def standing(change: Any = None) -> dict[str, Any]:
    """The noon document with its plan, after a change of it."""
    document = deepcopy(NOON)
    document["scene"]["plan"] = deepcopy(PLAN)
    if change:
        change(document)
    return document


class InAndOut(unittest.TestCase):
    def test_a_plan_that_agrees_is_taken(self) -> None:
        self.assertEqual(faults(standing()), [])
        plan = setup_of(standing()).scene.layout
        assert plan is not None
        self.assertEqual(plan.people[0].skin, "deep")
        self.assertEqual(plan.surfaces[0].reflectance, 0.4)
        self.assertAlmostEqual(dist(plan.lights["Large head"].at, plan.face), 2.5, places=2)
        self.assertAlmostEqual(plan.angle_deg("Large head"), 45, places=4)

    def test_out_and_in_again_is_the_same(self) -> None:
        exported: Any = canonical(standing())
        self.assertEqual(exported["scene"]["plan"]["surfaces"][0]["from"], [1.5, -1.0])
        self.assertEqual(setup_of(exported), setup_of(standing()))
        self.assertEqual(canonical(exported), exported)

    def test_a_scrim_a_cable_and_the_wind_go_out_and_in(self) -> None:
        scrim = {"x_m": 0.4, "y_m": 0.6, "height_m": 2.5, "radius_m": 0.6, "stops": 1.5}

        def added(document: dict[str, Any]) -> None:
            document["scene"]["plan"] |= {"scrim": scrim, "wind_deg": -90}
            document["scene"]["plan"]["lights"]["Large head"]["cable"] = [-4, -1]

        plan = setup_of(standing(added)).scene.layout
        assert plan is not None
        assert plan.scrim is not None
        self.assertEqual((plan.scrim.at, plan.scrim.stops, plan.wind_deg), ((0.4, 0.6, 2.5), 1.5, -90))
        self.assertEqual(plan.lights["Large head"].cable, (-4, -1))
        exported: Any = canonical(standing(added))
        self.assertEqual(exported["scene"]["plan"]["scrim"], scrim)
        self.assertEqual(layout_written(plan)["scrim"], scrim)
        self.assertEqual(canonical(exported), exported)
        for name, value, problem in (
            ("radius_m", 4, "4 is outside 0.2 … 3 m"),
            ("radius_m", 0.1, "0.1 is outside 0.2 … 3 m"),
            ("stops", 0.2, "0.2 is outside 0.3 … 5 stops"),
            ("stops", 6, "6 is outside 0.3 … 5 stops"),
        ):
            with self.subTest(name=name, value=value):
                bad = standing(added)
                bad["scene"]["plan"]["scrim"] = scrim | {name: value}
                self.assertEqual(faults(bad), [f"scene.plan.scrim.{name}: {problem}"])

    def test_a_set_up_without_one_is_written_without(self) -> None:
        self.assertNotIn("plan", canonical(NOON)["scene"])

    def test_the_plan_of_the_figures_agrees_with_them(self) -> None:
        document = with_layout(canonical(NOON), layout_in(NOON))
        self.assertEqual(faults(document), [])
        for path in ("subject_distance_m", "background_distance_m"):
            self.assertEqual(document["scene"][path], NOON["scene"][path])
        self.assertEqual(document["lights"][0]["distance_m"], 2.5)


class Disagreeing(unittest.TestCase):
    def refused(self, change: Any) -> str:
        found = faults(standing(change))
        self.assertEqual(len(found), 1, found)
        return found[0]

    def test_figures_that_disagree_are_named(self) -> None:
        def subject(document: Any) -> None:
            document["scene"]["subject_distance_m"] = 3.3

        def distance(document: Any) -> None:
            document["lights"][0]["distance_m"] = 2.52

        def angle(document: Any) -> None:
            document["lights"][0]["angle_deg"] = 46

        def faces(document: Any) -> None:
            document["scene"]["face_distances_m"] = [3.0]

        def light_faces(document: Any) -> None:
            document["lights"][0]["face_distances_m"] = [2.0]

        for change, name in (
            (subject, "scene.subject_distance_m"),
            (distance, "lights[0].distance_m"),
            (angle, "lights[0].angle_deg"),
            (faces, "scene.face_distances_m[0]"),
            (light_faces, "lights[0].face_distances_m[0]"),
        ):
            with self.subTest(name=name):
                said = self.refused(change)
                self.assertTrue(said.startswith(f"{name}: "), said)
                self.assertIn("is not what the plan says", said)

    def test_a_centimetre_and_half_a_degree_are_let_pass(self) -> None:
        for off, angle, good in ((0.009, 0.4, True), (0.02, 0.0, False), (0.0, 0.6, False)):
            document = standing()
            document["lights"][0].update(distance_m=2.5 + off, angle_deg=45 + angle)
            with self.subTest(off=off, angle=angle):
                self.assertEqual(faults(document) == [], good)

    def test_what_cannot_stand_there_is_named(self) -> None:
        def nobody(document: Any) -> None:
            document["scene"]["plan"]["people"] = []

        def stranger(document: Any) -> None:
            document["scene"]["plan"]["lights"]["Moon"] = PLAN["lights"]["Large head"]

        def point(document: Any) -> None:
            document["scene"]["plan"]["surfaces"][0]["to"] = [1.5, -1.0]

        def mirror(document: Any) -> None:
            document["scene"]["plan"]["surfaces"][0]["reflectance"] = 1.2

        def skin(document: Any) -> None:
            document["scene"]["plan"]["people"][0]["skin"] = "green"

        def away(document: Any) -> None:
            document["scene"]["plan"]["camera"]["x_m"] = float(10**9)

        def unknown(document: Any) -> None:
            document["scene"]["plan"]["tripod"] = 1

        for change, name in (
            (nobody, "scene.plan.people"),
            (stranger, "scene.plan.lights.Moon"),
            (point, "scene.plan.surfaces[0].to"),
            (mirror, "scene.plan.surfaces[0].reflectance"),
            (skin, "scene.plan.people[0].skin"),
            (away, "scene.plan.camera.x_m"),
            (unknown, "scene.plan.tripod"),
        ):
            with self.subTest(name=name):
                self.assertTrue(self.refused(change).startswith(name), self.refused(change))

    def test_lights_of_one_name_and_without_a_name_are_told_apart(self) -> None:
        document = standing()
        second = {**document["lights"][0], "role": "fill", "relative_level": None}
        third = {**second, "name": "", "role": "rim"}
        document["lights"] += [second, third]
        at = document["scene"]["plan"]["lights"]["Large head"]
        document["scene"]["plan"]["lights"].update({"Large head 2": at, "rim": at})
        self.assertEqual(faults(document), [])


class Following(unittest.TestCase):
    @given(st.floats(1, 9), st.floats(0.5, 5), st.floats(0, 179))
    @fewer(40)
    def test_a_changed_figure_moves_the_plan(self, subject: float, far: float, angle: float) -> None:
        document: Any = canonical(standing())
        document["scene"]["subject_distance_m"] = round(subject, 2)
        document["lights"][0].update(distance_m=round(far, 2), angle_deg=round(angle, 1))
        found: Any = canonical_with_layout(document)
        self.assertEqual(faults(found), [])
        self.assertAlmostEqual(found["scene"]["subject_distance_m"], subject, delta=0.02)
        self.assertAlmostEqual(found["lights"][0]["distance_m"], far, delta=0.02)
        # People, walls and the view are where they were.
        self.assertEqual(found["scene"]["plan"]["surfaces"], document["scene"]["plan"]["surfaces"])
        self.assertEqual(found["scene"]["plan"]["facing_deg"], 200.0)

    @given(st.floats(-4, 4), st.floats(-4, 4), st.floats(0.3, 3.5))
    @fewer(40)
    def test_a_moved_light_changes_the_figures(self, x: float, y: float, height: float) -> None:
        if abs(x) + abs(y) < 0.4:
            return
        document = canonical(standing())
        plan = layout_in(document)
        lights = {"Large head": type(plan.lights["Large head"])(round(x, 3), round(y, 3), round(height, 3))}
        found = with_layout(document, Layout(plan.camera, plan.people, lights, plan.surfaces, 200.0))
        self.assertEqual(faults(found), [])
        kept = LayoutDocument.model_validate(found["scene"]["plan"]).core()
        self.assertEqual(kept.lights["Large head"].x_m, round(x, 3))
        self.assertAlmostEqual(
            found["lights"][0]["distance_m"], dist(kept.lights["Large head"].at, kept.face), delta=0.006
        )

    def test_what_is_written_can_be_read(self) -> None:
        plan = layout_in(standing())
        self.assertEqual(LayoutDocument.model_validate(layout_written(plan)).core(), plan)


if __name__ == "__main__":
    unittest.main()
