"""Proofs of whole set-ups: what their levels say must be in the picture."""

import unittest
from dataclasses import replace
from math import log2

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from noggin.core.layout.standing import layout_of
from noggin.core.physics.appearance import MID_GREY
from noggin.core.physics.colour import LUMINANCE
from noggin.core.physics.optics import blur_disc
from noggin.core.planning.plan import plan
from noggin.core.planning.way import Way
from noggin.core.proof.backdrop import blurred
from noggin.core.proof.develop import Picture, develop
from noggin.core.proof.mesh import EYES, Floats, floats, stand
from noggin.core.proof.mixture import total_on_card
from noggin.core.proof.raster import rasterise
from noggin.core.proof.stage import CHILD_UNDER_M, stage_of
from noggin.core.proof.view import CameraView
from noggin.core.setup.layout import PersonSpot
from noggin.core.setup.light import Light
from noggin.core.setup.setup import SetUp
from noggin.figures import figure
from noggin.services.setups.proofs import ProofRecipe, Proofs, card_in, recipe_of
from tests.support import LIGHT, MOMENT, fewer, noon

SMALL = (240, 160)
"""Small pictures say the same and are made sooner."""

PROOFS = Proofs()


def recipe(setup: SetUp, key: str = "nd") -> ProofRecipe:
    return recipe_of(setup, plan(setup).way(key), SMALL)


def picture(setup: SetUp, key: str = "nd") -> Picture:
    return PROOFS.picture(recipe(setup, key))


def way_of(setup: SetUp, key: str = "nd") -> Way:
    return plan(setup).way(key)


def level(of: Picture, row: int, column: int) -> float:
    """The tone of a pixel as its sRGB value says, in stops from mid-tone. IEC 61966-2-1 by hand."""
    value = of.image(stripes=False)[row, column].astype(float) / 255
    light = np.where(value <= 0.04045, value / 12.92, ((value + 0.055) / 1.055) ** 2.4)
    return log2(float(light @ LUMINANCE) / 0.18)


FILL = Light(40, 2.0, role="fill", name="Fill", angle_deg=30)
RIM = Light(30, 3.0, role="rim", name="Rim", angle_deg=140)
SETUPS = {
    "noon": noon(),
    "sky and rim": noon(sky=15.1, rim=15.6),
    "box": noon(lights=(replace(LIGHT, radius_m=0.55),)),
    "three lights": noon(lights=(LIGHT, FILL, RIM)),
    "sun in front": noon(
        moment=replace(MOMENT, place=replace(MOMENT.place, facing_deg=80)),
        subject=13.2,
        background_level=0.0,
    ),
    "warm": noon(lights=(replace(LIGHT, gel="full_cto"),)),
    "daylight set": noon(white_balance_k=4000),
}


class Radiometry(unittest.TestCase):
    def test_a_card_square_to_the_key_reads_the_plans_level(self) -> None:
        for name, setup in SETUPS.items():
            with self.subTest(setup=name):
                made = recipe(setup)
                plates = PROOFS.plates(made)
                card = card_in(made.stage, plates, made)
                read = level(develop(plates, made.mixture, card), *card.at)
                wanted = way_of(setup).lighting.levels.subject
                self.assertAlmostEqual(log2(total_on_card(made.mixture.parts)), wanted, places=3)
                self.assertAlmostEqual(read, wanted, delta=0.02)

    def test_background_and_sky_read_the_plans_levels(self) -> None:
        for name, setup in SETUPS.items():
            with self.subTest(setup=name):
                made, levels = recipe(setup), way_of(setup).lighting.levels
                plates = PROOFS.plates(made)
                found = develop(plates, made.mixture)
                behind = plates.behind(made.mixture.blur)
                at = plates.read_at(behind.sky)
                assert at is not None
                self.assertAlmostEqual(level(found, *at), levels.background, delta=0.03)
                above = plates.read_at(behind.sky, of_sky=True)
                if levels.sky is not None:
                    assert above is not None
                    self.assertAlmostEqual(level(found, *above), levels.sky, delta=0.03)

    def test_the_sum_of_the_parts_is_the_picture(self) -> None:
        made = recipe(SETUPS["three lights"])
        plates = PROOFS.plates(made)
        whole = develop(plates, made.mixture).linear
        names = [name for name, _ in made.sources]
        parts = [made.mixture.only(frozenset((name,)), None) for name in names]
        parts.append(made.mixture.only(None, flash=False))
        summed = sum(develop(plates, part).linear for part in parts)
        self.assertLess(float(np.abs(summed - whole).max()), 1e-4)

    @given(st.floats(-3, 1.5))
    @fewer(12)
    def test_a_stop_more_of_all_light_is_twice_the_picture(self, meant: float) -> None:
        one = noon(school="match", subject_level=meant, subject=4.0, background_level=meant)
        made = recipe(one)
        plates, doubled = PROOFS.plates(made), made.mixture
        brighter = replace(
            doubled,
            parts=tuple(replace(part, amount=2 * part.amount) for part in doubled.parts),
            behind=tuple(replace(part, amount=2 * part.amount) for part in doubled.behind),
        )
        first, other = (develop(plates, each).linear for each in (doubled, brighter))
        self.assertLess(float(np.abs(other - 2 * first).max()), 1e-3)

    def test_flash_alone_leaves_sky_and_sun_out(self) -> None:
        made = recipe(SETUPS["sky and rim"])
        flash = develop(PROOFS.plates(made), made.mixture.only(None, flash=True))
        self.assertLess(float(flash.linear[:, 3].max()), 0.005)
        self.assertGreater(float(flash.linear.max()), 0.1)

    def test_a_face_is_lit_from_the_side_of_its_key(self) -> None:
        left = noon(lights=(replace(LIGHT, angle_deg=60),))
        made = recipe(left)
        plates = PROOFS.plates(made)
        flash = develop(plates, made.mixture.only(None, flash=True)).luminance
        ratio = flash / np.maximum(np.tensordot(LUMINANCE, plates.albedo, 1), 1e-3)
        covered = plates.cover == 1
        columns = np.nonzero(covered.any(0))[0]
        middle = (columns[0] + columns[-1]) // 2
        rows = slice(None, plates.shape[0] // 2)
        from_left = ratio[rows, :middle][covered[rows, :middle]].mean()
        from_right = ratio[rows, middle:][covered[rows, middle:]].mean()
        self.assertGreater(float(from_left), 1.3 * float(from_right))


class Optics(unittest.TestCase):
    def test_the_blur_of_the_background_is_that_of_the_lens(self) -> None:
        # f²/(N(s − f))·(D − s)/D by hand: 85²/(2·3115)·36.8/40 = 1.0669 mm of 36.
        made = recipe(noon())
        self.assertAlmostEqual(made.mixture.blur, 1.0669 / 36, places=4)
        self.assertAlmostEqual(made.mixture.blur * 36, blur_disc(3.2, 40, 85, 2), places=6)

    @given(st.floats(2, 60))
    @fewer(20)
    def test_a_point_becomes_a_disc_and_keeps_its_light(self, diameter: float) -> None:
        dark = np.zeros((121, 121), np.float32)
        dark[60, 60] = 1000
        found = blurred(dark, diameter)
        self.assertAlmostEqual(float(found.sum()) / 1000, 1, delta=0.02)
        y, x = np.mgrid[0:121, 0:121] - 60
        spread = float(((x**2 + y**2) * found).sum() / found.sum())
        # The mean square distance on an even disc of diameter d is d²/8.
        self.assertAlmostEqual(spread**0.5, diameter / 8**0.5, delta=0.06 * diameter + 0.6)

    def row_of_three(self, aperture: float) -> tuple[ProofRecipe, Picture]:
        """In focus, 1.6 m behind that, and 0.7 m before it, none before another."""
        setup = noon(aperture=aperture, subject_level=0.0)
        people = (PersonSpot(0, 0, 1.6), PersonSpot(0.7, 1.6, 1.7), PersonSpot(-0.45, -0.7, 1.55))
        stood = replace(layout_of(setup), people=people)
        made = recipe(replace(setup, scene=replace(setup.scene, layout=stood)))
        return made, PROOFS.picture(made)

    def test_people_out_of_focus_are_drawn_so(self) -> None:
        sharp, soft = self.row_of_three(16.0), self.row_of_three(1.8)
        self.assertEqual(soft[0].mixture.people_blurs[0][0], 0)
        # f²/(N(s−f))·|D−s|/D: 85 mm, f/1.8 (its dial step), 3.2 m, the one behind at 4.8 m.
        n = way_of(noon(aperture=1.8)).settings.aperture.value
        by_hand = 85**2 / (n * (3200 - 85)) * (1600 / 4800) / 36
        self.assertAlmostEqual(soft[0].mixture.people_blurs[1][0], by_hand, places=6)
        shares = PROOFS.plates(soft[0]).shares()
        for index, blurs in ((0, False), (1, True), (2, True)):
            with self.subTest(person=index):
                inside = shares[index] > 0.99
                inside &= np.roll(inside, 4, 0) & np.roll(inside, -4, 0) & np.roll(inside, 4, 1)
                edges = [self.edges_in(one.luminance, inside) for _, one in (sharp, soft)]
                if blurs:
                    self.assertLess(edges[1] / edges[0], 0.8)
                else:
                    self.assertGreater(edges[1] / edges[0], 0.9)

    @staticmethod
    def edges_in(light: Floats, inside: np.ndarray) -> float:
        """How sharply light changes from pixel to pixel, of the light that is there."""
        steps = np.abs(np.diff(light, n=2, axis=1))[inside[:, 1:-1]]
        return float(steps.mean() / light[inside].mean())

    def test_blur_of_people_keeps_their_light(self) -> None:
        made, found = self.row_of_three(1.8)
        plates = PROOFS.plates(made)
        sharp = develop(plates, replace(made.mixture, people_blurs=((0.0, 3.2),) * 3))
        for index in range(3):
            own = plates.shares()[index] > 0.5
            with self.subTest(person=index):
                ratio = float(found.luminance[own].mean() / sharp.luminance[own].mean())
                self.assertAlmostEqual(ratio, 1, delta=0.06)

    def test_movement_smears_daylight_and_leaves_a_flash_sharp(self) -> None:
        still = noon()
        moving = noon(subject_speed_m_s=5.0)
        made = recipe(moving)
        # 5 m/s for 1/200 s (2^-7 1/3 s on the dial) at 3.2 m through 85 mm on 36 mm, in parts of the frame.
        time = way_of(moving).settings.shutter.value
        self.assertAlmostEqual(made.mixture.smear, 5 * time / 3.2 * 85 / 36, places=6)
        plates = PROOFS.plates(made)
        day = develop(plates, made.mixture.only(None, flash=False)).luminance
        calm = develop(plates, recipe(still).mixture.only(None, flash=False)).luminance
        self.assertLess(self.edges(day), 0.85 * self.edges(calm))
        flash = develop(plates, made.mixture.only(None, flash=True)).luminance
        sharp = develop(plates, recipe(still).mixture.only(None, flash=True)).luminance
        self.assertGreater(self.edges(flash), 0.95 * self.edges(sharp))

    @staticmethod
    def edges(light: Floats) -> float:
        return float(np.abs(np.diff(light, axis=1)).max(axis=1).mean())


class Spoilt(unittest.TestCase):
    def test_without_high_speed_sync_the_flash_is_missing_at_the_foot(self) -> None:
        setup = noon(lights=(replace(LIGHT, hss_toll=None),))
        made = recipe(setup, "hss")
        flash = develop(PROOFS.plates(made), made.mixture.only(None, flash=True)).luminance
        # 1/8000 under a travel of 0.85/200: 2.9 % of the frame is lit.
        lit = 2 ** (-13 + 23 / 3) / 0.85
        self.assertAlmostEqual(lit, 0.029, places=3)
        row = int(flash.shape[0] * lit) + 2
        self.assertEqual(float(flash[row:].max()), 0.0)

    def test_a_droop_darkens_the_top_by_its_stops(self) -> None:
        """As a pop without high-speed sync is missing at the foot: the rows there are the first to open."""
        plain, drooping = (
            recipe(noon(lights=(replace(LIGHT, hss_droop=droop),), subject=8.0), "hss")
            for droop in (0.0, 1.0)
        )
        plates = PROOFS.plates(plain)
        even, falling = (
            develop(plates, each.mixture.only(None, flash=True)).linear[1] / each.mixture.parts[-1].amount
            for each in (plain, drooping)
        )
        covered = plates.cover == 1
        ratio = np.where(covered & (even > 0.01), falling / np.maximum(even, 1e-6), np.nan)
        height = plates.shape[0]
        middle, foot = np.nanmean(ratio[int(height * 0.5)]), np.nanmean(ratio[-1])
        self.assertAlmostEqual(log2(foot / middle), 0.5, delta=0.05)

    def test_what_clips_is_struck_through(self) -> None:
        bright = noon(subject_level=2.0, school="match")
        found = picture(bright)
        self.assertTrue(found.clipped.any())
        image, plain = found.image(), found.image(stripes=False)
        struck = (image != plain).any(-1)
        self.assertTrue(struck.any())
        self.assertTrue(found.clipped[struck].all())
        self.assertFalse(picture(noon(subject_level=-2.0)).clipped.any())

    def test_an_extended_low_iso_clips_sooner(self) -> None:
        one = Picture(np.full((3, 4, 4), MID_GREY * 2**2.5, np.float32), 3.0)
        self.assertFalse(one.clipped.any())
        self.assertTrue(replace(one, full=2.0).clipped.all())

    def test_a_histogram_counts_every_pixel_once(self) -> None:
        found = picture(noon()).histogram()
        self.assertEqual((len(found), int(found.sum())), (256, SMALL[0] * SMALL[1]))

    def test_zones_that_are_not_there_are_not_drawn(self) -> None:
        self.assertIsNone(recipe(noon()).mixture.sky)
        self.assertEqual(float(PROOFS.plates(recipe(noon())).backdrop.sky.max()), 0)


class Figures(unittest.TestCase):
    def test_figures_are_whole(self) -> None:
        # A child of the same distance between the eyes is shorter: they are nearly grown at six.
        for name, high in (("gown", 1.70), ("suit", 1.70), ("child", 1.42)):
            for version in ("fine", "coarse"):
                with self.subTest(figure=name, version=version):
                    mesh = figure(name, version)
                    self.assertLess(int(mesh.triangles.max()), len(mesh.own))
                    tall = float(mesh.own[:, 1].max() - mesh.own[:, 1].min())
                    self.assertAlmostEqual(tall, high, delta=0.04)
                    size = np.linalg.norm(mesh.normals, axis=1)
                    self.assertLess(float(np.abs(size - 1).max()), 0.02)

    def test_everybody_stands_on_the_ground_with_eyes_where_they_are_said_to_be(self) -> None:
        for name in ("gown", "suit", "child"):
            for eyes in (1.02, 1.58):
                stood = stand(figure(name, "coarse"), 0, (0.3, eyes, -0.2), 20)
                self.assertAlmostEqual(float(stood.places[:, 1].min()), 0.0, places=4)
                own = figure(name, "coarse")
                seen = own.part[:, None] == EYES
                middle = stood.places[own.triangles[seen[:, 0]].ravel()].mean(0)
                self.assertAlmostEqual(float(middle[1]), eyes, delta=0.01)

    def test_whose_eyes_are_low_is_a_child_and_no_small_grown_up(self) -> None:
        setup = noon()
        layout = layout_of(setup)
        for height, child in (
            (CHILD_UNDER_M - 0.01, True),
            (CHILD_UNDER_M, False),
            (1.20, False),  # somebody sits
        ):
            spot = PersonSpot(0, 0, height, wears="white dress")
            person = stage_of(setup, replace(layout, people=(spot,)), SMALL).people[0]
            self.assertEqual(person.looks.figure == "child", child)
        parts = {name: figure(name, "fine") for name in ("gown", "child")}
        # Heads of a height: seven and a half of a grown-up, six of a child (common practice in drawing).
        ratio = {name: -float(mesh.own[:, 1].min()) for name, mesh in parts.items()}
        self.assertLess(ratio["child"], 0.86 * ratio["gown"])

    def test_a_triangle_covers_the_pixels_inside_it(self) -> None:
        # Square to the camera, 1 m away, 100 pixels to a slope of 1: a right angle with legs of 0.2 m has
        # 20 × 20 / 2 pixels.
        view = CameraView((0, 1, 0), 0.0, 100.0, 60, 40)
        places = floats([(-0.1, 0.9, -1), (0.1, 0.9, -1), (-0.1, 1.1, -1)])
        mesh = figure("gown", "coarse")
        one = replace(
            mesh,
            places=places,
            triangles=np.array([[0, 1, 2]], np.int32),
            part=mesh.part[:1],
            who=mesh.who[:1],
        )
        hits = rasterise(one, view)
        self.assertAlmostEqual(len(hits.pixels), 200, delta=12)
        self.assertTrue(np.allclose(hits.weights.sum(1), 1, atol=1e-5))
        self.assertTrue(np.allclose(hits.depths, 1, atol=1e-5))

    def test_a_place_is_seen_where_the_lens_puts_it(self) -> None:
        # 85 mm on 36 mm, 600 pixels: 1416.7 to a slope of 1; 0.3 m aside at 3.2 m is 132.8 off the middle.
        view = CameraView((0, 1.4, 3.2), 0.0, 600 * 85 / 36, 600, 400)
        x, y, depth = view.project(floats([(0.3, 1.4, 0)]))
        self.assertAlmostEqual(float(x[0]), 300 + 132.8, delta=0.1)
        self.assertAlmostEqual(float(y[0]), 200, places=3)
        self.assertAlmostEqual(float(depth[0]), 3.2, places=5)

    @given(st.floats(-0.4, 0.4), st.floats(-0.3, 0.3), st.floats(1, 8), st.floats(-0.3, 0.3))
    def test_a_ray_leads_to_what_is_projected(self, x: float, y: float, far: float, tilt: float) -> None:
        view = CameraView((0.2, 1.4, 1.0), tilt, 200.0, 160, 120)
        turned = floats((x * far, y * far, -far)) @ view.axes + floats(view.at)
        across, down, _ = view.project(turned[None])
        rays = view.rays()
        if 1 <= across[0] < 158 and 1 <= down[0] < 118:
            ray = rays[int(down[0]), int(across[0])]
            met = floats(view.at) + ray * np.float32(far)
            self.assertLess(float(np.abs(met - turned).max()), 1.2 * far / 200)

    def test_a_small_picture_shows_the_same_as_a_large_one(self) -> None:
        made = recipe(noon(sky=15.1))
        large, small = (PROOFS.picture(made, one).luminance for one in (False, True))
        height, width = small.shape
        self.assertEqual((2 * height, 2 * width), large.shape)
        mean = large.reshape(height, 2, width, 2).mean((1, 3))
        self.assertLess(float(np.abs(mean - small).mean()), 0.02 * float(mean.max()))


class Kept(unittest.TestCase):
    def test_the_same_picture_has_the_same_name_and_another_another(self) -> None:
        names = {recipe(setup, key).name for setup in SETUPS.values() for key in ("nd", "stop_down")}
        self.assertGreaterEqual(len(names), 2 * len(SETUPS) - 2)
        self.assertEqual(recipe(noon()).name, recipe(noon()).name)

    def test_what_is_kept_is_bounded_whatever_moves(self) -> None:
        most = 60_000_000.0
        proofs = Proofs(most)
        for distance in (2.0, 2.4, 2.8, 3.2, 3.6, 4.0):
            proofs.picture(recipe(noon(lights=(replace(LIGHT, distance_m=distance),))))
            self.assertLess(proofs.bytes_kept, most)
            proofs.picture(recipe(noon(subject_distance_m=distance + 1)))
            self.assertLess(proofs.bytes_kept, most)
        self.assertGreater(proofs.bytes_kept, most / 10)
        proofs.clear()
        self.assertEqual(proofs.bytes_kept, 0)

    def test_a_dial_alone_makes_no_new_unit_picture(self) -> None:
        proofs = Proofs()
        proofs.picture(recipe(noon()))
        kept = proofs.bytes_kept
        proofs.picture(recipe(noon(background_level=-2.0)))
        self.assertEqual(proofs.bytes_kept, kept)


if __name__ == "__main__":
    unittest.main()
