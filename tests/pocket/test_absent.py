"""Packages that a phone has no build of. One stands for all here: no environment of Noggin's has `cv2`."""

import sys
import unittest
from importlib import import_module

from noggin.pocket import absent
from noggin.pocket.absent import NotInPocket, all_loaded, stand_in


class Absent(unittest.TestCase):
    def setUp(self) -> None:
        before = [*sys.meta_path]
        self.addCleanup(setattr, absent._Finder, "loading", True)
        self.addCleanup(sys.modules.pop, "cv2", None)
        self.addCleanup(sys.meta_path.__setitem__, slice(None), before)
        stand_in()
        self.module = import_module("cv2")

    def test_it_can_be_imported_and_stand_in_annotations(self) -> None:
        self.assertIsNotNone(self.module.Mat[int] | None)
        self.assertTrue(issubclass(self.module.SomeError, Exception))

        class Own(self.module.Base):  # type: ignore[name-defined,misc]
            pass

        self.assertIsInstance(Own(), Own)

    def test_what_is_made_of_it_while_loading_is_refused_when_used(self) -> None:
        table = self.module.array((1, 2, 3))
        for use in (bool, float, len, list, lambda one: one @ one):
            with self.assertRaisesRegex(NotInPocket, "needs cv2"):
                use(table)

    def test_once_all_is_loaded_whoever_calls_it_is_told(self) -> None:
        all_loaded()
        with self.assertRaisesRegex(NotInPocket, "The pocket edition leaves this out"):
            self.module.imread("a.jpg")

    def test_what_is_there_is_taken_first(self) -> None:
        self.assertEqual(float(import_module("numpy").float64(2.0)), 2.0)
