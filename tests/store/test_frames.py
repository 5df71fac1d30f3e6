"""Takes and their frames: in the order of time, each file once, found by tag and by word."""

import unittest
from datetime import UTC, datetime, timedelta

from noggin.store.frames import KeptFrame, Wanted
from noggin.store.repository import NotKept
from noggin.store.store import Store
from tests.store.test_store import StoreCase

NOON = datetime(2027, 6, 19, 12, tzinfo=UTC)


class Frames(StoreCase):
    def setUp(self) -> None:
        super().setUp()
        self.store = self.open()
        self.setup = self.store.setups.add({"name": "wall"}, NOON).id

    def add(self, store: Store, minute: float, words: str = "", **more: object) -> KeptFrame:
        tags = more.pop("tags", ())
        found = store.frames.add(NOON + timedelta(minutes=minute), {"n": minute}, tags, words, **more)  # type: ignore[arg-type]
        assert found is not None
        return found

    def numbers(
        self, wanted: Wanted | None = None, most: int = 10, before: int | None = None
    ) -> list[float]:
        return [one.document["n"] for one in self.store.frames.page(most, wanted or Wanted(), before)]

    def test_newest_first_whenever_they_come_in(self) -> None:
        for minute in (2, 0, 3, 1, 1):
            self.add(self.store, minute)
        self.assertEqual(self.numbers(), [3, 2, 1, 1, 0])
        first = self.store.frames.page(2, Wanted())
        self.assertEqual(self.numbers(before=first[-1].place), [1, 1, 0])
        self.assertEqual([one.document["n"] for one in self.store.frames.all(Wanted())], [3, 2, 1, 1, 0])

    def test_a_file_is_kept_once(self) -> None:
        digest = "a" * 64
        self.add(self.store, 0, sha256=digest)
        self.assertIsNotNone(self.store.frames.known(digest))
        self.assertIsNone(self.store.frames.add(NOON, {}, (), "", sha256=digest))
        self.assertEqual(self.store.frames.count(), 1)

    def test_found_by_every_tag_and_every_word(self) -> None:
        self.add(self.store, 0, "orchard wall large head", tags=(("light", "large"), ("way", "nd")))
        self.add(self.store, 1, "orchard gate", tags=(("light", "large"), ("way", "hss")))
        self.add(self.store, 2, "Dôme door", tags=(("light", "small"), ("way", "nd")))
        cases: tuple[tuple[Wanted, list[int]], ...] = (
            (Wanted((("light", "large"),)), [1, 0]),
            (Wanted((("light", "large"), ("way", "nd"))), [0]),
            (Wanted(find="orch"), [1, 0]),
            (Wanted(find="orchard wall"), [0]),
            (Wanted((("way", "hss"),), "orchard"), [1]),
            (Wanted(find="dome"), [2]),
            (Wanted(find='a" OR "b'), []),
            (Wanted(find="*"), []),
            (Wanted((("light", "none"),)), []),
        )
        for wanted, numbers in cases:
            with self.subTest(wanted=wanted):
                self.assertEqual(self.numbers(wanted), numbers)
        self.assertEqual(self.store.frames.values("light"), ("large", "small"))
        self.assertEqual(self.store.frames.values("verdict"), ())

    def test_written_anew_it_is_found_by_what_it_says_now(self) -> None:
        frame = self.add(self.store, 0, "wall", tags=(("way", "nd"),))
        self.store.frames.write(frame.id, {"n": 7}, (("way", "hss"),), "gate", None)
        self.assertEqual(self.numbers(Wanted(find="wall")), [])
        self.assertEqual(self.numbers(Wanted(find="gate")), [7])
        self.assertEqual(self.numbers(Wanted((("way", "hss"),))), [7])
        self.assertEqual(self.numbers(Wanted((("way", "nd"),))), [])

    def test_what_goes_leaves_nothing_behind(self) -> None:
        take = self.store.takes.begin(self.setup, {"way": "nd"}, NOON)
        frame = self.add(self.store, 0, "wall", tags=(("way", "nd"),), take_id=take.id, jpeg=b"jpeg")
        self.assertEqual(self.store.frames.picture(frame.id), b"jpeg")
        self.assertEqual(self.store.frames.with_pictures([frame.id, 99]), {frame.id})
        self.store.clear()
        self.assertEqual(self.numbers(Wanted(find="wall")), [])
        self.assertEqual(self.store.frames.values("way"), ())
        for gone in (
            lambda: self.store.frames.get(frame.id),
            lambda: self.store.frames.picture(frame.id),
            lambda: self.store.frames.remove(frame.id),
            lambda: self.store.takes.get(take.id),
            lambda: self.store.frames.get(2**70),
        ):
            self.assertRaises(NotKept, gone)

    def test_the_last_take_is_the_one_that_counts(self) -> None:
        self.assertIsNone(self.store.takes.latest(self.setup))
        self.store.takes.begin(self.setup, {"n": 1}, NOON)
        second = self.store.takes.begin(self.setup, {"n": 2}, NOON + timedelta(hours=1))
        self.assertEqual(self.store.takes.latest(self.setup), second)
        self.store.takes.write(second.id, {"n": 3})
        self.assertEqual([one.document["n"] for one in self.store.takes.latest_first(5)], [3, 1])
        for minute in (3, 1):
            self.add(self.store, minute, take_id=second.id)
        self.assertEqual([one.document["n"] for one in self.store.frames.of_take(second.id)], [1, 3])


if __name__ == "__main__":
    unittest.main()
