"""The kit document: what is read is written, what cannot be is named by its field."""

import json
import unittest
from collections.abc import Callable
from copy import deepcopy
from random import Random
from typing import Any

from noggin.demo import demo_kit
from noggin.documents.gear import GEAR_KINDS
from noggin.documents.kit import canonical_gear, gear_of, read_kit
from noggin.documents.paths import path_of
from noggin.documents.problems import BadDocument
from noggin.forms.gear_classes import GEAR_CLASSES, gear_by_class
from noggin.forms.gear_entries import gear_entries
from noggin.forms.gear_summary import summary
from tests.documents.test_mutated import SPOILERS, leaves, put


def faults(document: dict[str, Any]) -> list[str]:
    """What is said of a kit that is refused."""
    try:
        read_kit(document)
    except BadDocument as bad:
        return [str(fault) for fault in bad.problems]
    return []


class Kit(unittest.TestCase):
    def changed(self, change: Callable[[dict[str, Any]], Any]) -> list[str]:
        document = deepcopy(demo_kit())
        change(document)
        return faults(document)

    def test_the_demo_kit_has_every_kind_and_comes_out_as_it_went_in(self) -> None:
        document = read_kit(demo_kit())
        self.assertEqual({owned.item.kind for owned in document.gear}, set(GEAR_KINDS))
        for owned, raw in zip(document.gear, demo_kit()["gear"], strict=True):
            self.assertEqual(canonical_gear(raw["item"]), raw["item"])
            self.assertEqual(owned.item.name, raw["item"]["name"])

    def test_what_cannot_be_is_named_by_its_field(self) -> None:
        def item(at: int, **figures: Any) -> Callable[[dict[str, Any]], Any]:
            return lambda document: document["gear"][at]["item"].update(figures)

        light = next(at for at, one in enumerate(demo_kit()["gear"]) if one["item"]["kind"] == "light")
        for change, said in (
            (item(0, sync_s={"value": -1}), "gear[0].item.sync_s.value: −1 is outside 1/8000 … 30 s"),
            (
                item(0, sync_s={"value": "1/200", "on": "May"}),
                'gear[0].item.sync_s.on: "May" is not a date',
            ),
            (item(0, kind="tent"), 'gear[0].item.kind: "tent" is not one of body, lens'),
            (item(0, name=""), "gear[0].item.name: is empty"),
            (item(0, fastest_s="1/100"), "gear[0].item.sync_s: 1/200 is faster than the fastest time"),
            (item(0, colour="red"), "gear[0].item.colour: is not a field of this document"),
            (item(light, reflectors=[]), f"gear[{light}].item.reflectors: is empty"),
            (lambda d: d["bags"][0]["gear"].append("tent"), "bags[0].gear: 'tent' is not in the kit"),
            (lambda d: d["gear"].append(d["gear"][0]), "gear: 'Full-frame body' is listed twice"),
            (lambda d: d.update(version=2), "version: 2 is newer than 1"),
            (
                lambda d: d["gear"][0]["measurements"][0].update(sheet="guess"),
                "gear[0].measurements[0].sheet:",
            ),
        ):
            with self.subTest(said=said):
                told = self.changed(change)
                self.assertTrue(any(one.startswith(said) for one in told), told)

    def test_spoilt_values_are_named_and_never_a_trace(self) -> None:
        rng = Random(77)  # noqa: S311 - a fixed seed is what a test wants
        document = demo_kit()
        del document["notes"]
        paths = [path for path in leaves(document) if path[-1] not in ("format", "kind", "readings")]
        for number in range(500):
            path, kind = rng.choice(paths), rng.choice(list(SPOILERS))
            spoilt = deepcopy(document)
            put(spoilt, path, SPOILERS[kind](rng))
            with self.subTest(number=number, path=path_of(path), kind=kind):
                names = tuple(path_of(path[:end]) for end in (len(path), len(path) - 1) if end)
                told = faults(spoilt)
                # A name is also what bags go by: they may be the first to miss it.
                self.assertTrue(any(one.startswith((*names, "bags")) for one in told), told)

    def test_a_kit_of_another_kind_of_document_is_refused(self) -> None:
        self.assertEqual(
            faults({"format": "noggin-setup"}), ["format: \"noggin-setup\" is not 'noggin-kit'"]
        )


class Classes(unittest.TestCase):
    def test_every_class_is_whole_and_two_fields_are_enough(self) -> None:
        for kind, of_kind in GEAR_CLASSES.items():
            for key in of_kind:
                with self.subTest(kind=kind, key=key):
                    gear = canonical_gear(gear_by_class(kind, key, "Mine"))
                    self.assertEqual((gear["name"], gear["source"]), ("Mine", "class"))
                    self.assertTrue(summary(gear))
                    gear_of(gear).check()

    def test_every_figure_that_is_shown_can_be_typed_again(self) -> None:
        for owned in demo_kit()["gear"]:
            gear = canonical_gear(owned["item"])
            for entry in gear_entries(gear).values():
                with self.subTest(gear=gear["name"], figure=entry.key):
                    text = entry.text(gear)
                    again = canonical_gear(entry.put(gear, entry.parsed(text)))
                    if ":" not in entry.key:
                        self.assertEqual(entry.text(again), text)

    def test_a_figure_typed_anew_is_not_trusted_like_the_measured_one(self) -> None:
        light = next(one["item"] for one in demo_kit()["gear"] if one["item"]["kind"] == "light")
        entry = gear_entries(light)["gn_m-0"]
        figure = entry.put(light, entry.parsed("70"))["reflectors"][0]["gn_m"]
        self.assertEqual(figure, {"value": 70, "source": "brochure"})
        toll = gear_entries(light)["hss_toll"].put(light, 2.0)["hss_toll"]
        self.assertEqual(toll, {"value": 2, "source": "brochure", "sync_s": light["hss_toll"]["sync_s"]})

    def test_whatever_is_typed_is_taken_or_refused_in_words(self) -> None:
        odd = (
            "",
            "x",
            "0",
            "-1",
            "1/0",
            "1e400",
            "nan",
            "∞",
            "1–2–3",
            "9" * 40,
            "½",
            "a\x00b",
            "1/200 s f/8",
        )
        for kind, of_kind in GEAR_CLASSES.items():
            gear = canonical_gear(gear_by_class(kind, next(iter(of_kind)), ""))
            for entry in gear_entries(gear).values():
                for text in odd:
                    with self.subTest(kind=kind, figure=entry.key, text=text):
                        try:
                            canonical_gear(entry.put(gear, entry.parsed(text)))
                        except ValueError as error:  # Unreadable, Refused and BadDocument are such
                            self.assertTrue(str(error))


class Written(unittest.TestCase):
    def test_the_document_is_plain_json(self) -> None:
        self.assertEqual(json.loads(json.dumps(demo_kit())), demo_kit())
