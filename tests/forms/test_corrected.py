"""A set-up corrected by frames: what they say goes in, what somebody changed stays, one tap takes it
back."""

import unittest
from copy import deepcopy
from datetime import UTC, datetime
from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from noggin.core.pops.corrections import Correction
from noggin.documents.setup import canonical
from noggin.forms.change import with_frames, without_frames
from tests.support import NOON, fewer

AT = datetime(2027, 6, 19, 13, 22, tzinfo=UTC)
DOCUMENT = canonical(NOON)
OFFSETS = st.floats(-2, 2)


def said(background: float = 0.4, light: float = -0.5, toll: float = 0.2) -> list[Correction]:
    """What some frames say."""
    return [
        Correction("background", background, 0.2, 0.6),
        Correction("light 0", light, 0.3, 1.2),
        Correction("toll", toll, 0.2, 0.4),
    ]


def corrected(document: Any, begun: Any, found: list[Correction], frames: int = 3) -> Any:
    """The corrected document, checked."""
    return canonical(with_frames(document, begun, found, frames, AT))


class Corrected(unittest.TestCase):
    def test_figures_move_by_what_was_found(self) -> None:
        now = corrected(DOCUMENT, DOCUMENT, said())
        self.assertEqual(now["scene"]["ev100"]["background"], 15.0)
        self.assertEqual(now["scene"]["ev100"]["subject"], 12.0)
        # Half a stop less light: GN² goes with energy (ISO 1230).
        self.assertAlmostEqual(now["lights"][0]["gn_m"], 60 / 2**0.25, delta=0.005)
        self.assertEqual(now["lights"][0]["hss_toll"], 1.3)
        self.assertEqual(now["scene"]["uncertainty"]["background"], 0.2)
        self.assertEqual(
            (now["corrected"]["frames"], now["corrected"]["at"]), (3, "2027-06-19T13:22+00:00")
        )

    @given(OFFSETS, OFFSETS, st.floats(-1, 1))
    @fewer(40)
    def test_taken_back_it_is_as_it_was(self, background: float, light: float, toll: float) -> None:
        now = corrected(DOCUMENT, DOCUMENT, said(background, light, toll))
        self.assertEqual(canonical(without_frames(now)), DOCUMENT)

    @given(OFFSETS, OFFSETS)
    @fewer(40)
    def test_another_frame_counts_from_where_the_take_began(self, first: float, then: float) -> None:
        once = corrected(DOCUMENT, DOCUMENT, said(first))
        twice = corrected(once, DOCUMENT, said(then), 4)
        self.assertEqual(twice, corrected(DOCUMENT, DOCUMENT, said(then), 4))

    def test_a_later_take_counts_from_what_the_earlier_one_found(self) -> None:
        first = corrected(DOCUMENT, DOCUMENT, said(0.4))
        second = corrected(first, first, said(0.3, 0.0, 0.0))
        self.assertAlmostEqual(second["scene"]["ev100"]["background"], 15.3)
        self.assertEqual(canonical(without_frames(second)), DOCUMENT)

    def test_what_somebody_changed_meanwhile_stays(self) -> None:
        now = corrected(DOCUMENT, DOCUMENT, said())
        now["scene"]["ev100"]["background"] = 13.0
        again = corrected(now, DOCUMENT, said(0.8), 4)
        self.assertEqual(again["scene"]["ev100"]["background"], 13.0)
        self.assertEqual(canonical(without_frames(again))["scene"]["ev100"]["background"], 13.0)

    def test_a_light_that_is_gone_is_left_out(self) -> None:
        begun = deepcopy(DOCUMENT)
        begun["lights"].append({**begun["lights"][0], "role": "fill", "name": "Second"})
        begun = canonical(begun)
        found = [Correction("light 1", 0.5, 0.2, 1.0)]
        self.assertEqual(corrected(DOCUMENT, begun, found), DOCUMENT)

    def test_nothing_found_is_nothing_changed(self) -> None:
        self.assertEqual(corrected(DOCUMENT, DOCUMENT, []), DOCUMENT)
        now = corrected(DOCUMENT, DOCUMENT, said())
        self.assertEqual(corrected(now, DOCUMENT, []), DOCUMENT)


if __name__ == "__main__":
    unittest.main()
