"""Surfaces that throw light on, scrims, cables and wind, against closed forms and cases by hand."""

import unittest
from dataclasses import replace
from math import atan, cos, dist, log2, pi, radians, sin, sqrt, tan

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from noggin.core.advice.layout_words import light_notes, scrim_notes, surface_notes, wind_notes
from noggin.core.layout.bounce import panel_of, patches_of
from noggin.core.layout.findings import Standing
from noggin.core.layout.moves import mirrored, moved_layout, with_cable, with_scrim
from noggin.core.layout.obstacles import blocks, segments_apart
from noggin.core.layout.scrim import covers, held_back
from noggin.core.layout.standing import SunOver, layout_of
from noggin.core.layout.surroundings import bounced_by, cable_crosses, of_scrim, tips_toward
from noggin.core.setup.layout import Layout, LightSpot, PersonSpot, ScrimSpot, SurfaceLine
from tests.support import LIGHT, MOMENT, noon

FACE = (0.0, 0.0, 1.55)
BACKLIT = replace(MOMENT, place=replace(MOMENT.place, facing_deg=230))


def alone(layout: Layout | None = None) -> Layout:
    """A plan with one person in it."""
    return replace(layout or layout_of(noon()), people=(PersonSpot(0.0, 0.0),))


def stands(layout: Layout, **changes: object) -> Standing:
    """A set-up that stands as a plan says, its figures with it."""
    spot = layout.lights["Large head"]
    far = dist(spot.at, layout.face)
    light = replace(LIGHT, distance_m=far, angle_deg=layout.angle_deg("Large head"))
    return Standing(noon(layout=layout, lights=(light,), **changes))


def corner_factor(wide: float, high: float, away: float) -> float:
    """What a rectangle gives a small parallel surface opposite one of its corners, as part of what falls on
    it: catalogues of view factors (Howell, B-3), from memory."""
    a, b = wide / away, high / away
    root_a, root_b = sqrt(1 + a * a), sqrt(1 + b * b)
    return (a / root_a * atan(b / root_a) + b / root_b * atan(a / root_b)) / (2 * pi)


class ThrownOn(unittest.TestCase):
    def thrown(self, wall: SurfaceLine, height: float, away: float) -> float:
        """What a wall along x = 0 that has light 1 throws on a small surface facing its middle."""
        place, facing = (away, 0.0, height), (-1.0, 0.0, 0.0)
        lit = [patch for patch in patches_of(panel_of(wall)) if patch.normal[0] > 0]
        return wall.reflectance * sum(patch.onto(place, facing) for patch in lit)

    def test_a_rectangle_throws_what_the_catalogue_says(self) -> None:
        for half, high, away in ((1.0, 2.0, 1.0), (2.0, 2.4, 1.5), (0.5, 1.2, 0.8), (3.0, 3.0, 4.0)):
            with self.subTest(half=half, high=high, away=away):
                wall = SurfaceLine((0.0, -half), (0.0, half), high, 0.6)
                wanted = 0.6 * 4 * corner_factor(half, high / 2, away)
                self.assertAlmostEqual(self.thrown(wall, high / 2, away) / wanted, 1, delta=0.05)

    def test_close_before_a_wide_wall_it_is_what_the_wall_throws_back(self) -> None:
        wall = SurfaceLine((0.0, -15.0), (0.0, 15.0), 30.0, 0.5)
        self.assertAlmostEqual(self.thrown(wall, 15.0, 0.5), 0.5, delta=0.03)

    @given(st.floats(0.05, 0.45), st.floats(0.5, 6))
    def test_twice_as_bright_throws_twice_as_much_and_never_more_than_it_has(
        self, reflectance: float, away: float
    ) -> None:
        dark, bright = (
            self.thrown(SurfaceLine((0.0, -1.0), (0.0, 1.0), 2.0, tone), 1.0, away)
            for tone in (reflectance, 2 * reflectance)
        )
        self.assertAlmostEqual(bright, 2 * dark, places=9)
        self.assertLessEqual(bright, 2 * reflectance)

    def test_a_reflector_by_hand(self) -> None:
        # Small and square between: the lamp 2 m before it, the face 2 m off, both straight on its axis.
        held = SurfaceLine((1.9, -0.1), (2.1, -0.1), 1.65, 0.8)
        there = replace(alone(), lights={"Large head": LightSpot(0.0, -2.5, 1.55)}, surfaces=(held,))
        found = {one.light for one in bounced_by(stands(there), held)}
        self.assertEqual(found, set())  # a strip 20 cm wide throws too little to be worth a word
        wide = replace(held, start=(1.4, 0.7), end=(2.05, -0.8))
        self.assertEqual([one.light for one in bounced_by(stands(there), wide)], ["Large head"])

    def test_the_back_of_a_surface_throws_nothing_of_a_light_on_its_front(self) -> None:
        # Face and lamp on different sides of a wall at x = 1.
        wall = SurfaceLine((1.0, -2.0), (1.0, 2.0), 2.4, 0.8)
        behind = replace(alone(), lights={"Large head": LightSpot(2.5, 0.0, 1.55)}, surfaces=(wall,))
        self.assertEqual(list(bounced_by(stands(behind), wall)), [])
        before = replace(behind, lights={"Large head": LightSpot(-1.5, -2.0, 1.55)})
        self.assertEqual([one.light for one in bounced_by(stands(before), wall)], ["Large head"])

    def test_the_sun_on_a_reflector_is_told_with_the_advice_to_read_it(self) -> None:
        # The sun from behind on the right: a reflector before them throws it on their faces.
        held = SurfaceLine((-0.6, -1.4), (0.6, -1.4), 1.9, 0.8)
        standing = stands(replace(alone(), surfaces=(held,)), moment=BACKLIT)
        assert standing.sun is not None
        self.assertLess(abs(standing.sun.off_deg), 90)
        notes = {note.label: note.text for note in surface_notes(standing, 0)}
        self.assertIn("sun −", notes["Throws on"])
        self.assertIn("read the daylight", notes["Reading"])
        level = next(one.level for one in bounced_by(standing, held) if one.light == "sun")
        # No more than all of what falls on it at the sun's own angle.
        self.assertLess(level, log2(0.8))
        shaded = replace(standing.layout, scrim=ScrimSpot(0.0, -0.5, 2.6, 3.0, 0.5))
        less = next(
            one.level for one in bounced_by(stands(shaded, moment=BACKLIT), held) if one.light == "sun"
        )
        self.assertAlmostEqual(less, level - 0.5, places=6)


class Blocked(unittest.TestCase):
    def test_between_two_places_or_beside_and_over_the_way(self) -> None:
        wall = SurfaceLine((1.0, -1.0), (1.0, 1.0), 2.0, 0.4)
        for start, end, blocked in (
            ((2.0, 0.0, 1.5), FACE, True),
            ((2.0, 0.0, 2.4), FACE, True),  # halfway at 1.975 m
            ((2.0, 0.0, 2.5), FACE, False),  # and at 2.025
            ((2.0, 1.9, 1.5), FACE, True),  # crosses at y = 0.95
            ((2.0, 2.1, 1.5), FACE, False),
            ((0.9, 0.0, 1.5), FACE, False),  # on the same side
        ):
            with self.subTest(start=start):
                self.assertEqual(blocks(wall, start, end), blocked)
                self.assertEqual(blocks(wall, end, start), blocked)

    def test_what_a_light_leaves_on_the_background(self) -> None:
        # A point 2.5 m before the face, 17.5 m more to the background: 2·log2(20/2.5) = 6 stops less.
        for behind, said in ((17.4, True), (17.6, False)):
            standing = stands(alone(), background_distance_m=3.2 + behind)
            labels = [note.label for note in light_notes(standing, standing.lights[0])]
            self.assertEqual("On the background" in labels, said, behind)

    def test_a_light_behind_a_wall_is_told(self) -> None:
        wall = SurfaceLine((-1.0, -2.0), (-1.0, 0.5), 2.4, 0.4)
        standing = stands(replace(alone(), surfaces=(wall,)))
        notes = {note.label: note.text for note in light_notes(standing, standing.lights[0])}
        self.assertEqual(notes["Blocked"], "the wall stands between it and the face")
        low = stands(replace(alone(), surfaces=(replace(wall, height_m=1.0),)))
        self.assertEqual(low.lights[0].blocked_by, ())

    def test_no_sun_patches_in_the_shade_of_a_wall(self) -> None:
        # The sun 55° high at the camera's back: a wall 1 m off shades a face at 1.55 m from 2.98 m up.
        front = replace(MOMENT, place=replace(MOMENT.place, facing_deg=50))
        sun = stands(alone(), moment=front).sun
        assert sun is not None
        off, up = radians(sun.off_deg), radians(sun.height_deg)
        x, y = sin(off), cos(off)
        for over, lit in ((0.05, ()), (-0.05, (0,))):
            high = 1.55 + tan(up) + over
            wall = SurfaceLine((x - 2 * y, y + 2 * x), (x + 2 * y, y - 2 * x), high, 0.4)
            turned = replace(alone(), people=(PersonSpot(0.0, 0.0, turn_deg=0.0),), surfaces=(wall,))
            found = stands(turned, moment=front).under_sun
            assert found is not None
            self.assertEqual(found.on_faces, lit)


class Scrims(unittest.TestCase):
    def test_a_shadow_as_wide_as_itself_on_the_side_away_from_the_sun(self) -> None:
        sun = SunOver(90.0, 45.0)  # from the right, half high
        scrim = ScrimSpot(1.0, 0.0, 2.55, 0.6, 1.5)  # a metre right and up: on the way to the face
        for point, shaded in (
            (FACE, True),
            ((0.0, 0.59, 1.55), True),  # its half width aside
            ((0.0, 0.61, 1.55), False),
            ((0.84, 0.0, 1.55), True),  # along the ground its shadow is longer: 0.6/sin 45° = 0.849 m
            ((0.86, 0.0, 1.55), False),
            ((2.0, 0.0, 3.55), False),  # between it and the sun
        ):
            with self.subTest(point=point):
                self.assertEqual(covers(scrim, sun, point), shaded)

    def test_what_it_takes_counts_where_its_shadow_falls_on_the_face(self) -> None:
        layout, sun = alone(), SunOver(60.0, 50.0)
        under = with_scrim(layout, sun)
        assert under.scrim is not None
        self.assertEqual(held_back(layout, sun), 0)
        self.assertEqual(held_back(under, sun), under.scrim.stops)
        aside = replace(under, scrim=replace(under.scrim, y_m=under.scrim.y_m + 1.5))
        self.assertEqual(held_back(aside, sun), 0)
        # Where nobody knows where the sun is, a scrim is held over them.
        self.assertEqual(held_back(aside, None), under.scrim.stops)
        self.assertEqual(held_back(aside, replace(sun, assumed=True)), under.scrim.stops)

    def test_what_is_said_of_it(self) -> None:
        layout = alone()
        sun = stands(layout, moment=BACKLIT).sun
        under = with_scrim(layout, sun)
        assert under.scrim is not None
        notes = self.notes(under)
        self.assertIn("1.5 stops off", notes["Shade"][0])
        self.assertIn("soft", notes["Softness"][0])
        beside = replace(under, scrim=replace(under.scrim, x_m=under.scrim.x_m - 3))
        self.assertEqual(
            self.notes(beside)["Shade"], ("its shadow falls beside them: move it toward the sun", True)
        )
        far = replace(under, people=(*under.people, PersonSpot(3.0, 0.0, role="groom")))
        self.assertTrue(self.notes(far)["Shade"][1])
        self.assertIn("the others stand in the sun", self.notes(far)["Shade"][0])

    def notes(self, layout: Layout, **changes: object) -> dict[str, tuple[str, bool]]:
        found = scrim_notes(stands(layout, moment=BACKLIT, **changes))
        return {note.label: (note.text, note.matters) for note in found}

    def test_it_is_a_sail(self) -> None:
        # ½ · 1.2 · 1.2 · π · 0.6² · v²: 50 N at 7.84 m/s.
        under = with_scrim(alone(), SunOver(60.0, 50.0))
        for gust, matters in ((7.8, False), (7.9, True)):
            with self.subTest(gust=gust):
                self.assertEqual(self.notes(under, gust_m_s=gust)["Wind"][1], matters)
        self.assertIsNone(of_scrim(stands(under)).force_n)  # type: ignore[union-attr]

    def test_mirroring_leaves_sun_and_scrim_where_they_are(self) -> None:
        under = with_scrim(alone(), SunOver(60.0, 50.0))
        self.assertEqual(mirrored(under).scrim, under.scrim)
        moved = moved_layout(under, 1.0, -0.5).scrim
        assert moved is not None
        assert under.scrim is not None
        self.assertAlmostEqual(moved.x_m - under.scrim.x_m, 1.0)
        self.assertAlmostEqual(moved.y_m - under.scrim.y_m, -0.5)

    def test_the_shadow_of_a_low_sun_is_where_its_height_says(self) -> None:
        # Straight behind, 20° high: 1 m over the face, the scrim must be 1/tan 20° behind it.
        back = 1 / tan(radians(20))
        for off, shaded in ((0.0, True), (1.7, True), (1.8, False)):
            scrim = ScrimSpot(0.0, back + off, 2.55, 0.6, 1.0)
            # Along the ground its shadow reaches 0.6/sin 20° = 1.754 m.
            self.assertEqual(covers(scrim, SunOver(0.0, 20.0), FACE), shaded)


class Cables(unittest.TestCase):
    def test_across_the_way_or_beside_it(self) -> None:
        layout = alone()
        for start, end, crosses in (
            ((-1.5, -1.5), (1.5, -1.5), True),
            ((-1.5, -1.5), (-4.0, -1.5), False),
            ((-1.5, -1.5), (-0.26, -1.5), False),  # a quarter of a metre short of where they walk
            ((-1.5, -1.5), (-0.24, -1.5), True),
            ((-1.5, 1.0), (1.5, 1.0), False),  # behind the subject
        ):
            with self.subTest(start=start, end=end):
                laid = replace(layout, lights={"Large head": LightSpot(*start, 2.0, cable=end)})
                self.assertEqual(cable_crosses(stands(laid), "Large head"), crosses)

    def test_one_that_is_led_away_goes_out_to_its_own_side(self) -> None:
        layout = alone()
        there = with_cable(layout, "Large head")
        led = there.lights["Large head"]
        assert led.cable is not None
        self.assertAlmostEqual(led.cable[0], led.x_m - 2.5, places=3)
        self.assertFalse(cable_crosses(stands(there), "Large head"))
        other_side = mirrored(there).lights["Large head"]
        assert other_side.cable is not None
        self.assertEqual(other_side.cable[0], -led.cable[0])

    @given(*[st.tuples(st.floats(-5, 5), st.floats(-5, 5))] * 4)
    def test_two_lines_are_as_near_to_each_other_both_ways(
        self,
        start: tuple[float, float],
        end: tuple[float, float],
        other: tuple[float, float],
        other_end: tuple[float, float],
    ) -> None:
        found = segments_apart(start, end, other, other_end)
        self.assertAlmostEqual(found, segments_apart(other_end, other, end, start), places=9)
        # No two of their points are nearer: the least over many of them is no less, and hardly more.
        part = np.linspace(0, 1, 60)
        first = np.outer(1 - part, start) + np.outer(part, end)
        second = np.outer(1 - part, other) + np.outer(part, other_end)
        least = float(np.sqrt(((first[:, None] - second[None]) ** 2).sum(2)).min())
        self.assertLessEqual(found, least + 1e-9)
        self.assertLess(least - found, 0.26)


class Wind(unittest.TestCase):
    def tipped(self, x: float, y: float, wind: float | None, gust: float | None = 8.0) -> tuple[int, ...]:
        layout = replace(alone(), lights={"Large head": LightSpot(x, y, 2.0)}, wind_deg=wind)
        return tips_toward(stands(layout, gust_m_s=gust), "Large head")

    def test_it_throws_a_light_down_the_wind_as_far_as_it_is_high(self) -> None:
        # The person stands at the origin; the light 2 m high; 0.3 m more for whoever stands there.
        for x, y, wind, hit in (
            (-1.5, 0.0, -90.0, True),  # wind from the left, light on the left
            (-1.5, 0.0, 90.0, False),  # from the other side
            (-2.2, 0.0, -90.0, True),
            (-2.4, 0.0, -90.0, False),  # farther than it is high
            (-1.5, 0.55, -90.0, True),
            (-1.5, 0.65, -90.0, False),  # falls past them
            (0.0, 1.5, 0.0, True),  # from where the camera looks, light behind
        ):
            with self.subTest(x=x, y=y, wind=wind):
                self.assertEqual(bool(self.tipped(x, y, wind)), hit)
        self.assertEqual(self.tipped(-1.5, 0.0, None), ())
        self.assertEqual(self.tipped(-1.5, 0.0, -90.0, gust=None), ())

    def test_it_is_said_with_what_to_do(self) -> None:
        layout = replace(alone(), wind_deg=-45.0)
        standing = stands(layout, gust_m_s=8.0)
        self.assertEqual(
            [note.text for note in wind_notes(standing)], ["gusts of 8 m/s from behind the subject, left"]
        )
        unknown = [note.text for note in wind_notes(stands(layout))]
        self.assertIn("how strong is not said", unknown[0])
        blown = stands(replace(layout, wind_deg=-135.0), gust_m_s=8.0)
        texts = {note.label: note.text for note in light_notes(blown, blown.lights[0])}
        if tips_toward(blown, "Large head"):
            self.assertIn("someone holds it", texts["Wind"])


if __name__ == "__main__":
    unittest.main()
