"""Two slots that are written in turn, and what is left of them whenever writing stops."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from noggin.pocket import slots
from noggin.pocket.slots import PhoneSlot

NUMBERS = st.integers(0, 2**63)


class Slots(unittest.TestCase):
    @given(NUMBERS, st.binary(max_size=300))
    def test_what_was_written_to_its_end_is_read(self, number: int, content: bytes) -> None:
        self.assertEqual(slots.read(slots.written(number, content)), PhoneSlot(number, content))

    @given(NUMBERS, st.binary(max_size=200), st.binary(max_size=200), st.data())
    def test_wherever_writing_stops_the_other_slot_counts(
        self, number: int, before: bytes, after: bytes, data: st.DataObject
    ) -> None:
        whole = slots.written(number + 1, after)
        torn = whole[: data.draw(st.integers(0, len(whole) - 1))]
        kept = slots.written(number, before)
        self.assertEqual(slots.newest(kept, torn), PhoneSlot(number, before))
        self.assertEqual(slots.newest(torn, kept), PhoneSlot(number, before))

    @given(st.binary(min_size=1, max_size=200), st.data())
    def test_a_bit_that_turned_is_seen(self, content: bytes, data: st.DataObject) -> None:
        spoilt = bytearray(slots.written(7, content))
        at = data.draw(st.integers(0, len(spoilt) - 1))
        spoilt[at] ^= 1 << data.draw(st.integers(0, 7))
        self.assertIsNone(slots.read(bytes(spoilt)))

    def test_the_later_one_counts_and_of_none_nothing(self) -> None:
        first, second = slots.written(4, b"earlier"), slots.written(5, b"later")
        self.assertEqual(slots.newest(first, second), PhoneSlot(5, b"later"))
        self.assertIsNone(slots.newest(b"", b""))
