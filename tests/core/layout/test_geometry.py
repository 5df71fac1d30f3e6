"""Geometry of a plan against cases worked by hand, and its laws."""

import unittest
from dataclasses import replace
from math import cos, degrees, dist, hypot, log2, radians, sin, sqrt

from hypothesis import given
from hypothesis import strategies as st

from noggin.core.advice.layout_words import layout_words, light_notes, sun_notes
from noggin.core.errors import Refused
from noggin.core.layout.findings import Standing
from noggin.core.layout.follow import followed
from noggin.core.layout.geometry import (
    Beam,
    FieldOfView,
    LitFace,
    aimed,
    along_bearing,
    clock_of,
    equal_stops,
    field_of_view,
    flares,
    nearest_out,
    placement,
    shows,
    way_out,
)
from noggin.core.layout.intentions import BY_KEY, INTENTIONS, arranged, lacks
from noggin.core.layout.obstacles import on_the_way, shades, shadow_length
from noggin.core.layout.standing import at_angle, layout_of, names_of, sun_over
from noggin.core.setup.layout import CameraSpot, Layout, LightSpot, PersonSpot, SurfaceLine
from noggin.core.setup.light import Light
from tests.support import LIGHT, MOMENT, fewer, noon

LENS = (0.0, -3.0, 1.5)
# 90° across and 53.13° up: half slopes of 1 and ½.
VIEW = FieldOfView(CameraSpot(*LENS), 1.0, 0.5, 0.0, 40.0)


class FieldsOfView(unittest.TestCase):
    def test_handbook_angles(self) -> None:
        # 2·atan(18/f): tables of lenses have 39.6° for 50 mm, 23.9° for 85, 73.7° for 24 on 36 mm.
        for focal, wanted in ((50, 39.6), (85, 23.9), (24, 73.7), (200, 10.3)):
            self.assertAlmostEqual(field_of_view(focal, 36), wanted, delta=0.05)

    def test_inside_and_outside_by_hand(self) -> None:
        for point, inside in (
            ((0.0, 0.0, 1.5), True),
            ((2.9, 0.0, 1.5), True),  # 3 m away the frame reaches 3 m to each side
            ((3.1, 0.0, 1.5), False),
            ((0.0, 0.0, 2.9), True),  # and 1.5 m up
            ((0.0, 0.0, 3.1), False),
            ((0.0, -3.5, 1.5), False),  # behind the lens
            ((0.0, 38.0, 1.5), False),  # behind the background
        ):
            with self.subTest(point=point):
                self.assertEqual(VIEW.holds(point), inside)

    def test_a_tilted_frame_reaches_higher_and_less_far_down(self) -> None:
        tilted = replace(VIEW, tilt=0.2)
        self.assertFalse(VIEW.holds((0.0, 0.0, 3.3)))
        self.assertTrue(tilted.holds((0.0, 0.0, 3.3)))
        self.assertTrue(VIEW.holds((0.0, 0.0, 0.1)))
        self.assertFalse(tilted.holds((0.0, 0.0, 0.1)))

    def test_a_modifier_shows_by_its_edge_and_a_stand_by_its_foot(self) -> None:
        # The face's middle is 2.3 m aside 2 m away, 30 cm out of a frame that reaches 2 m; turned to the
        # lens its radius of 40 cm reaches in.
        box = LitFace((2.3, -1.0, 1.5), 0.4, aimed((2.3, -1.0, 1.5), LENS))
        self.assertTrue(shows(VIEW, box).modifier)
        self.assertFalse(shows(VIEW, replace(box, radius_m=0.2)))
        high = LitFace((0.0, 0.0, 3.2), 0.0, (0.0, -1.0, 0.0))
        self.assertFalse(shows(VIEW, high).modifier)
        self.assertTrue(shows(VIEW, high).stand)

    def test_a_box_that_is_seen_from_its_side_is_narrow(self) -> None:
        # Turned so that its face lies along the edge of the frame, at 45°, it stays 21 cm off it.
        beside = LitFace((2.3, -1.0, 1.5), 0.4, (2**-0.5, -(2**-0.5), 0.0))
        self.assertFalse(shows(VIEW, beside).modifier)
        self.assertTrue(shows(VIEW, replace(beside, aim=(-(2**-0.5), -(2**-0.5), 0.0))).modifier)


class Places(unittest.TestCase):
    PERSON = PersonSpot(0.0, 0.0, 1.5)

    def at(self, off: float, up: float, far: float = 2.0, turn: float = 0.0) -> tuple[str, str]:
        height = 1.5 + far * sin(radians(up))
        out = far * cos(radians(up))
        light = (out * sin(radians(off)), -out * cos(radians(off)), height)
        found = placement(replace(self.PERSON, turn_deg=turn), LENS, light)
        self.assertAlmostEqual(found.off_deg, off, places=3)
        self.assertAlmostEqual(found.up_deg, up, places=3)
        return found.name, found.side

    def test_names_by_the_angle_off_the_lens(self) -> None:
        for off, up, name in (
            (10, 0, "flat"),
            (-25, 20, "loop"),
            (45, 38, "triangle"),
            (45, 10, "three-quarter"),
            (-65, 20, "near split"),
            (90, 0, "side"),
            (150, 20, "rim"),
        ):
            with self.subTest(off=off, up=up):
                self.assertEqual(self.at(off, up)[0], name)

    def test_both_sides_of_each_edge(self) -> None:
        for edge, under, over in (
            (15, "flat", "loop"),
            (35, "loop", "three-quarter"),
            (105, "side", "rim"),
        ):
            self.assertEqual(self.at(edge - 0.1, 0)[0], under)
            self.assertEqual(self.at(edge + 0.1, 0)[0], over)
        self.assertEqual(self.at(45, 29.9)[0], "three-quarter")
        self.assertEqual(self.at(45, 30.1)[0], "triangle")

    def test_short_is_the_side_that_is_turned_away_from_the_lens(self) -> None:
        # A face that looks to the camera's right shows the lens its right cheek; light from the right falls
        # on the other one.
        self.assertEqual(self.at(50, 20, turn=30)[1], "short")
        self.assertEqual(self.at(-50, 20, turn=30)[1], "broad")
        self.assertEqual(self.at(-50, 20, turn=-30)[1], "short")
        self.assertEqual(self.at(50, 20, turn=4)[1], "")

    def test_catchlights_by_the_clock(self) -> None:
        def hour(off: float, up: float) -> int | None:
            light = at_angle((0.0, 0.0, 1.5), off, 2.0, 1.5 + 2 * sin(radians(up)))
            return clock_of(self.PERSON, LENS, light.at)

        self.assertEqual((hour(1, 40), hour(-50, 40), hour(50, 40)), (12, 10, 2))
        self.assertEqual((hour(60, 1), hour(-60, 1)), (3, 9))
        self.assertIsNone(hour(120, 10))
        self.assertIsNone(hour(20, 60))

    @given(st.floats(-179, 179), st.floats(0.6, 6), st.floats(0.3, 3.5))
    def test_a_light_put_at_an_angle_is_there(self, off: float, far: float, height: float) -> None:
        face = (0.3, -0.2, 1.55)
        spot = at_angle(face, off, far, height)
        self.assertAlmostEqual(dist(spot.at, face), far, places=6)
        turned = placement(PersonSpot(*face), (0.3, -3.0, 1.4), spot.at)
        self.assertAlmostEqual(turned.off_deg, off, places=4)

    @given(st.floats(0.5, 9), st.floats(-3, 3), st.floats(-3, 3), st.floats(0.3, 3))
    def test_along_its_bearing_a_light_keeps_its_angle(
        self, far: float, x: float, y: float, z: float
    ) -> None:
        if hypot(x, y) < 0.1:
            return
        face, spot = (0.0, 0.0, 1.5), LightSpot(x, y, z)
        moved = along_bearing(spot, face, far)
        self.assertAlmostEqual(dist(moved.at, face), far, places=6)
        self.assertAlmostEqual(moved.x_m * y, moved.y_m * x, places=6)


class FallOff(unittest.TestCase):
    BEAM = Beam((-1.4, -1.4, 2.0), aimed((-1.4, -1.4, 2.0), (0.0, 0.0, 1.5)), 0.45, 1.5, (0.0, 0.0, 1.5))

    def test_lines_of_equal_stops_are_where_the_formula_has_them(self) -> None:
        # log2((d0² + r²)/(d² + r²)) + n·log2(cos/cos0), written out once more, at 100 points and more.
        at, aim = self.BEAM.at, self.BEAM.aim
        checked = 0
        for stops in (1.0, 1 / 3, -1 / 3, -1.0, -2.0):
            for x, y in equal_stops(self.BEAM, stops, 1.5):
                away = (x - at[0], y - at[1], 1.5 - at[2])
                d = sqrt(sum(part * part for part in away))
                cosine = sum(a * b for a, b in zip(away, aim, strict=True)) / d
                d0 = sqrt(1.4**2 + 1.4**2 + 0.25)
                wanted = log2((d0**2 + 0.45**2) / (d**2 + 0.45**2)) + 1.5 * log2(max(cosine, 0.02))
                self.assertAlmostEqual(wanted, stops, delta=0.01)
                checked += 1
        self.assertGreaterEqual(checked, 100)

    def test_feathering_loses_by_its_angle(self) -> None:
        # Aimed 20° past the face with n = 4: 4·log2(cos 20°) = −0.36 stop there.
        turned = aimed((0.0, 0.0, 0.0), (sin(radians(20)), cos(radians(20)), 0.0))
        beam = Beam((0.0, 0.0, 0.0), turned, 0.0, 4.0, (0.0, 2.0, 0.0))
        self.assertAlmostEqual(beam.off_deg((0.0, 2.0, 0.0)), 20, places=5)
        self.assertAlmostEqual(4 * log2(beam.cosine((0.0, 2.0, 0.0))), -0.359, places=3)

    def test_head_to_foot_by_hand(self) -> None:
        # Bare tube 2 m before the face at its height, aimed at it: the ankle (0.1 m) lies 1.4 m lower, 2.44
        # m from the tube and 35° off its aim: 2·log2(2.441/2) + log2(1/cos 35°) = 0.575 + 0.288.
        bare = replace(LIGHT, radius_m=0.0, distance_m=2.0)
        people = (PersonSpot(0.0, 0.0, 1.5),)
        layout = Layout(CameraSpot(0.0, -3.2), people, {"Large head": LightSpot(0.0, -2.0, 1.5)})
        placed = replace(bare, angle_deg=0.0, distance_m=2.0)
        found = Standing(noon(lights=(placed,), layout=layout)).lights[0]
        self.assertAlmostEqual(found.to_feet, 0.863, delta=0.003)


class OthersAndSun(unittest.TestCase):
    def test_who_stands_in_the_light_of_whom(self) -> None:
        light, face = (0.0, -3.0, 1.7), PersonSpot(0.0, 0.0, 1.55)
        self.assertTrue(shades(light, face, PersonSpot(0.1, -1.0, 1.6)))
        self.assertFalse(shades(light, face, PersonSpot(0.3, -1.0, 1.6)))  # 30 cm aside
        self.assertFalse(shades(light, face, PersonSpot(0.1, -1.0, 1.2)))  # a child
        self.assertFalse(shades(light, face, PersonSpot(0.0, 1.0, 1.7)))  # behind
        self.assertFalse(shades((0.0, -3.0, 3.5), face, PersonSpot(0.0, -1.5, 1.6)))  # from high up

    def test_a_shadow_as_long_as_the_sun_is_high(self) -> None:
        # Half as long again as one is tall at 33.7°, and none at night.
        self.assertAlmostEqual(shadow_length(1.68, 33.69) or 0, 2.52, places=2)
        self.assertIsNone(shadow_length(1.68, -2))

    def test_feet_on_the_way_are_told(self) -> None:
        # The way is 1 m wide and the feet reach 0.5 m: 0.99 m aside they are on it, 1.01 m they are not.
        for aside, told in ((0.99, True), (1.01, False)):
            self.assertEqual(on_the_way((aside, -1.5, 2.0), 0.5, LENS, (0.0, 0.0, 1.5)), told)
        self.assertFalse(on_the_way((0.0, 1.1, 2.0), 0.5, LENS, (0.0, 0.0, 1.5)))

    def test_flare_needs_a_light_that_looks_at_the_lens_from_near_the_frame(self) -> None:
        behind = (0.5, 2.0, 2.0)
        self.assertTrue(flares(VIEW, LitFace(behind, 0.1, aimed(behind, LENS))))
        away = (0.0, 1.0, 0.0)
        self.assertFalse(flares(VIEW, LitFace(behind, 0.1, away)))
        self.assertFalse(flares(VIEW, LitFace((0.0, -4.0, 1.5), 0.1, (0.0, 1.0, 0.0))))  # behind the camera
        # Half of 90° and 20° more: 64° off the axis still, 66° not.
        for off, wanted in ((64, True), (66, False)):
            at = (4 * sin(radians(off)), -3 + 4 * cos(radians(off)), 1.5)
            self.assertEqual(flares(VIEW, LitFace(at, 0.1, aimed(at, LENS))), wanted)

    def test_the_sun_over_the_plan_by_place_and_view(self) -> None:
        # pvlib (NREL SPA) has the sun at 248.26° and 55.12° then: a camera that looks away from it has it
        # behind itself.
        for facing, front in ((68.26, True), (248.26, False)):
            setup = noon(moment=replace(MOMENT, place=replace(MOMENT.place, facing_deg=facing)))
            sun = sun_over(setup, layout_of(setup))
            assert sun is not None
            self.assertEqual(abs(sun.off_deg) > 90, front)
            self.assertEqual(sun.share > 0.2, front)
            self.assertAlmostEqual(sun.height_deg, 55.12, delta=0.05)
            self.assertAlmostEqual(abs(sun.off_deg), 180 if front else 0, delta=0.05)

    def test_without_sun_nothing_is_said_of_it(self) -> None:
        overcast = replace(MOMENT, place=replace(MOMENT.place, sky="overcast", facing_deg=0.0))
        for setup in (noon(), noon(moment=overcast)):
            self.assertIsNone(sun_over(setup, layout_of(setup)))
            self.assertIn("none", next(sun_notes(Standing(setup))).text)


ROOMS = {
    "couple at 85 mm": noon(),
    "head and shoulders": noon(subject_distance_m=2.0, focal_mm=135, widest=2.0),
    "full length": noon(subject_distance_m=5.0, focal_mm=50),
    "group": noon(subject_distance_m=7.0, focal_mm=35, faces_m=(6.7, 6.7, 6.7, 7.3, 7.3, 7.3)),
}


class StayingOut(unittest.TestCase):
    def test_a_light_that_shows_is_told_how_it_does_not(self) -> None:
        close = noon(
            subject_distance_m=5.0, focal_mm=35, lights=(replace(LIGHT, radius_m=0.4, distance_m=1.2),)
        )
        standing = Standing(close)
        found = standing.lights[0]
        self.assertTrue(found.shows)
        out = way_out(standing.frame, standing.layout, found.name, 0.4)
        self.assertIsNotNone(out.distance_m)
        assert out.distance_m is not None
        moved = along_bearing(standing.layout.lights[found.name], standing.layout.face, out.distance_m)
        face = LitFace(moved.at, 0.4, aimed(moved.at, standing.layout.face))
        self.assertFalse(shows(standing.frame, face))
        nearer = along_bearing(moved, standing.layout.face, out.distance_m - 0.06)
        self.assertTrue(
            shows(standing.frame, LitFace(nearer.at, 0.4, aimed(nearer.at, standing.layout.face)))
        )

    def test_from_the_nearest_distance_on_it_never_shows(self) -> None:
        for name, setup in ROOMS.items():
            standing = Standing(setup)
            light = standing.names[0]
            nearest = nearest_out(standing.frame, standing.layout, light, 0.3)
            with self.subTest(room=name):
                assert nearest is not None
                for step in range(20):
                    moved = along_bearing(
                        standing.layout.lights[light], standing.layout.face, nearest + 0.5 * step
                    )
                    face = LitFace(moved.at, 0.3, aimed(moved.at, standing.layout.face))
                    self.assertFalse(shows(standing.frame, face))


THREE = (
    replace(LIGHT, radius_m=0.3),
    Light(40, 2.0, role="fill", name="Fill"),
    Light(30, 3.0, role="rim", name="Rim", angle_deg=140),
)
DAY = replace(MOMENT, place=replace(MOMENT.place, facing_deg=68.0))


class Intentions(unittest.TestCase):
    def test_every_one_keeps_the_key_out_of_the_frame_and_says_so_in_figures(self) -> None:
        for room, setup in ROOMS.items():
            whole = replace(setup, lights=THREE, scene=replace(setup.scene, moment=DAY))
            for intention in INTENTIONS:
                with self.subTest(room=room, intention=intention.key):
                    layout = arranged(intention, Standing(whole))
                    moved = Standing(replace(whole, scene=replace(whole.scene, layout=None)))
                    moved.layout = layout
                    key = moved.lights[0]
                    self.assertFalse(key.shows)
                    self.assertGreaterEqual(key.distance_m, 0.9)
                    self.assertTrue(layout_words(moved))

    def test_short_light_falls_on_the_far_side(self) -> None:
        for turn in (25.0, -25.0):
            people = (PersonSpot(0.0, 0.0, 1.55, turn),)
            setup = noon(lights=THREE)
            standing = Standing(setup)
            standing.layout = replace(standing.layout, people=people)
            standing.layout = arranged(BY_KEY["short_sculpted"], standing)
            found = Standing(setup)
            found.layout = standing.layout
            self.assertEqual(found.lights[0].placement.side, "short")

    def test_a_group_has_its_light_within_a_third_of_a_stop(self) -> None:
        setup = replace(ROOMS["group"], lights=THREE)
        found = Standing(setup)
        before = found.lights[0].across
        found.layout = arranged(BY_KEY["group_rows"], Standing(setup))
        after = Standing(setup)
        after.layout = found.layout
        self.assertGreater(before, 1 / 3)
        self.assertLessEqual(after.lights[0].across, 1 / 3 + 0.01)

    def test_with_and_against_the_sun_are_on_opposite_sides(self) -> None:
        setup = noon(lights=THREE, moment=DAY)
        standing = Standing(setup)
        assert standing.sun is not None
        sides = {}
        for key in ("sun_side", "against_sun"):
            spot = arranged(BY_KEY[key], standing).lights["Large head"]
            sides[key] = spot.x_m > 0
        self.assertEqual(sides["sun_side"], standing.sun.off_deg > 0)
        self.assertNotEqual(sides["sun_side"], sides["against_sun"])

    def test_the_sun_becomes_the_rim(self) -> None:
        setup = noon(lights=THREE, moment=DAY)
        layout = arranged(BY_KEY["sun_as_rim"], Standing(setup))
        sun = sun_over(setup, layout)
        assert sun is not None
        self.assertLess(abs(sun.off_deg), 40)

    def test_what_is_lacking_is_said(self) -> None:
        alone = Standing(noon())
        self.assertIn("fill", lacks(BY_KEY["clamshell"], alone))
        self.assertIn("rim", lacks(BY_KEY["across"], alone))
        self.assertIn("sun", lacks(BY_KEY["sun_side"], alone))
        self.assertEqual(lacks(BY_KEY["soft_even"], alone), "")
        with self.assertRaises(Refused):
            arranged(BY_KEY["clamshell"], alone)


class Following(unittest.TestCase):
    @given(
        st.floats(1.5, 12),
        st.floats(0.6, 6),
        st.floats(0, 175),
        st.sampled_from(["key", "rim", "background"]),
    )
    @fewer(60)
    def test_a_plan_follows_any_figures(self, subject: float, far: float, angle: float, role: str) -> None:
        lights = (LIGHT, Light(30, 3.0, role="rim", name="Other", angle_deg=120))
        if role == "background":
            lights = (LIGHT, Light(30, 3.0, role="background", name="Other"))
        before = noon(lights=lights)
        layout = layout_of(before)
        moved = tuple(
            replace(light, distance_m=far, angle_deg=angle) if light.role == role else light
            for light in lights
        )
        after = noon(lights=moved, subject_distance_m=subject)
        found = followed(layout, after)
        # The set-up checks that both agree when it is made.
        checked = replace(after, scene=replace(after.scene, layout=found))
        self.assertEqual(set(checked.scene.layout.lights), set(names_of(after)))  # type: ignore[union-attr]

    def test_what_agrees_stays_where_it_is(self) -> None:
        setup = noon()
        layout = layout_of(setup)
        self.assertEqual(followed(layout, setup), layout)

    def test_a_light_that_gets_another_name_keeps_its_place(self) -> None:
        setup = noon()
        layout = replace(layout_of(setup), lights={"Old name": LightSpot(1.5, -1.9, 2.1)})
        found = followed(layout, noon(lights=(replace(LIGHT, distance_m=2.48, angle_deg=38.3),)))
        self.assertGreater(found.lights["Large head"].x_m, 0)


class Saying(unittest.TestCase):
    def notes(self, **changes: object) -> dict[str, tuple[str, bool]]:
        standing = Standing(noon(**changes))
        return {note.label: (note.text, note.matters) for note in light_notes(standing, standing.lights[0])}

    def test_ballast_by_the_gust(self) -> None:
        box = replace(LIGHT, radius_m=0.6)
        self.assertNotIn("Ballast", self.notes(lights=(box,)))
        calm, windy = (self.notes(lights=(box,), gust_m_s=gust)["Ballast"] for gust in (1.0, 9.0))
        self.assertFalse(calm[1])
        self.assertTrue(windy[1])

    def test_walls_and_floor_have_their_light(self) -> None:
        setup = noon()
        wall = SurfaceLine((1.0, -1.0), (1.0, 1.0), 2.0, 0.18)
        layout = replace(layout_of(setup), surfaces=(wall,))
        found = Standing(noon(layout=layout)).lights[0].surfaces
        self.assertEqual([one.surface for one in found], ["wall", "floor"])
        # level − 2·log2(d_wall/d_subject) with a tone of 18 %, and the beam's own loss off its aim.
        beam = Standing(noon(layout=layout)).beam("Large head")
        far = found[0].distance_m
        self.assertLess(found[0].level, -2 * log2(far / 2.5) + 0.01)
        self.assertGreater(found[0].level, -2 * log2(far / 2.5) - 1.5)
        self.assertAlmostEqual(degrees(radians(beam.off_deg((0.0, 0.0, 1.55)))), 0, delta=0.01)


if __name__ == "__main__":
    unittest.main()
