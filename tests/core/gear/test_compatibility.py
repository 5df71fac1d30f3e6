"""What fits what: the chain of high-speed sync, threads, and addresses. The rules are the trade's (common
practice, no source); each case is thought through by hand."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from noggin.core.gear.compatibility import (
    Body,
    Head,
    Receiver,
    Trigger,
    addressed,
    fires,
    screws_on,
    stack_up,
)
from noggin.core.physics.filters import Filter, Ring
from noggin.core.setup.camera import Lens
from noggin.core.setup.light import Light

BODY = Body("Body", "1/200", True, "shoe one")
TRIGGER = Trigger("Trigger", "radio one", "shoe one")
HEAD = Head("Head", True, "radio one")


class Firing(unittest.TestCase):
    def test_one_weak_link_ends_it_at_sync_speed(self) -> None:
        self.assertTrue(fires(BODY, TRIGGER, HEAD).clean)
        for body, trigger, head, said in (
            (Body("Body", "1/200", False, "shoe one"), TRIGGER, HEAD, "Body has no high-speed sync"),
            (BODY, Trigger("Trigger", "radio one", "shoe one", hss=False), HEAD, "Trigger has none"),
            (BODY, TRIGGER, Head("Head", False, "radio one"), "Head has no high-speed sync"),
            (BODY, Trigger("Trigger", "radio one", "shoe two"), HEAD, "is made for shoe two"),
            (BODY, Trigger("Trigger", "radio one"), HEAD, "reads no flash system"),
            (Body("Body", "1/200", True), TRIGGER, HEAD, "system is unknown"),
        ):
            with self.subTest(said=said):
                found = fires(body, trigger, head)
                self.assertEqual((found.grade, found.words), ("limited", "up to 1/200 s"))
                self.assertIn(said, found.reasons[0])

    def test_a_light_that_hears_nothing_does_not_fire(self) -> None:
        for head in (Head("Head", True, "radio two"), Head("Head", True)):
            self.assertEqual(fires(BODY, TRIGGER, head).grade, "not")
        deaf = Head("Head", True)
        self.assertEqual(fires(BODY, TRIGGER, deaf, [Receiver("Other", "radio two")]).grade, "not")

    def test_the_better_receiver_is_taken(self) -> None:
        plain, full = Receiver("Plain", "radio one", hss=False), Receiver("Full", "radio one")
        self.assertEqual(fires(BODY, TRIGGER, Head("Head", True), [plain]).grade, "limited")
        found = fires(BODY, TRIGGER, Head("Head", True), [plain, full])
        self.assertEqual((found.grade, found.words), ("fits", "high-speed sync, through Full"))


def lens_of(thread_mm: float) -> Lens:
    """A lens with a filter thread."""
    return Lens(85, 1.8, 16, "85 mm", thread_mm)


class Threads(unittest.TestCase):
    def filter(self, thread: float | None, kind: str = "fixed", name: str = "ND") -> Filter:
        most = 5.0 if kind == "variable" else 2.0
        return Filter(name, 2.0, most, kind == "polariser", thread)

    def test_same_thread_a_ring_two_rings_or_none(self) -> None:
        lens = lens_of(67)
        rings = [Ring("67-77", 67, 77), Ring("77-82", 77, 82)]
        for thread, kept, grade in (
            (67, [], "fits"),
            (77, rings, "fits"),
            (82, rings, "fits"),
            (82, rings[:1], "not"),
            (82, [], "not"),
            (None, rings, "unknown"),
        ):
            with self.subTest(thread=thread, rings=len(kept)):
                self.assertEqual(screws_on(self.filter(thread), lens, kept).grade, grade)
        self.assertEqual(screws_on(self.filter(82), lens, rings).words, "with 67-77 and 77-82")

    def test_a_smaller_filter_darkens_the_corners(self) -> None:
        found = screws_on(self.filter(67), lens_of(82), [Ring("82-67", 82, 67)])
        self.assertEqual(found.grade, "limited")
        self.assertIn("corners go dark", found.words)

    @given(st.sampled_from([49, 52, 58, 67, 72, 77, 82]), st.sampled_from([49, 58, 67, 77, 82]))
    def test_a_filter_fits_without_rings_only_where_the_threads_are_equal(
        self, one: float, two: float
    ) -> None:
        found = screws_on(self.filter(one), lens_of(two))
        self.assertEqual(found.clean, one == two)

    def test_filters_together(self) -> None:
        var, other = self.filter(77, "variable", "A"), self.filter(77, "variable", "B")
        pol, nd, big = (
            self.filter(77, "polariser", "P"),
            self.filter(77, name="N"),
            self.filter(82, name="L"),
        )
        self.assertEqual([found.grade for found in stack_up([var, other])], ["not"])
        self.assertEqual([found.grade for found in stack_up([var, pol])], ["not"])
        self.assertEqual(stack_up([var, nd]), ())
        self.assertIn("a ring 77 → 82 mm between them", stack_up([nd, big])[0].words)
        self.assertEqual(stack_up([nd, big], [Ring("77-82", 77, 82)]), ())


class Addresses(unittest.TestCase):
    def test_groups_and_channels_that_the_trigger_has_not(self) -> None:
        lights = [Light(60, 2, name="Key", group="C", channel=40), Light(36, 2, "rim", "Rim", group="A")]
        small = Trigger("Trigger", "radio one", groups=2, channels=32)
        said = [found.words for found in addressed(lights, small)]
        self.assertEqual(said, ["Trigger has groups A to B, not C", "Trigger has channels 1 to 32, not 40"])

    def test_one_trigger_reaches_one_channel(self) -> None:
        lights = [
            Light(60, 2, name="Key", group="A", channel=1),
            Light(36, 2, "rim", "Rim", group="B", channel=2),
        ]
        self.assertEqual(
            addressed(lights, TRIGGER)[0].words, "they stand on channels 1 and 2: one trigger reaches one"
        )

    def test_several_lights_need_groups(self) -> None:
        lights = [Light(60, 2, name="Key"), Light(36, 2, "rim", "Rim", group="B")]
        self.assertEqual([found.grade for found in addressed(lights, TRIGGER)], ["limited"])
        self.assertEqual(addressed(lights[:1], TRIGGER), ())
