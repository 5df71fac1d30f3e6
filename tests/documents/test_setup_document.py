"""The set-up document: defaults, refusals by the field's name, and the way out and in again."""

import json
import unittest
from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from noggin.core.setup.light import LightUncertainty
from noggin.core.setup.setup import SetUp
from noggin.documents.json_input import read_object
from noggin.documents.problems import BadDocument
from noggin.documents.setup import canonical, setup_of
from tests.support import MOMENT, NOON, document_of, noon, noon_with, raw, setups


def faults(document: Any) -> list[str]:
    """What is said about a document; none when it is taken."""
    try:
        setup_of(read_object(document if isinstance(document, bytes) else raw(document)))
    except BadDocument as bad:
        return [str(fault) for fault in bad.problems]
    return []


class SetUpDocument(unittest.TestCase):
    def test_the_noon_document_is_the_noon_set_up(self) -> None:
        self.assertEqual(setup_of(read_object(raw(NOON))), noon())

    def test_out_and_in_again_is_the_same(self) -> None:
        exported = canonical(NOON)
        self.assertEqual(setup_of(exported), setup_of(NOON))
        self.assertEqual((exported["camera"]["sync_s"], exported["filters"][0]["stops"]), ("1/200", 6))
        self.assertEqual(canonical(exported), exported)

    @given(setups())
    def test_every_figure_of_a_set_up_goes_into_its_document_and_out_again(self, setup: SetUp) -> None:
        written = document_of(setup)
        self.assertEqual(setup_of(written), setup)
        self.assertEqual(setup_of(canonical(written)), setup)

    def test_what_came_later_is_left_out_while_it_says_nothing(self) -> None:
        exported = canonical(NOON)
        self.assertEqual(set(exported["scene"]) - set(NOON["scene"]), {"subject_speed_m_s"})
        self.assertFalse({"shutter", "iso_base", "curtain_s"} & set(exported["camera"]))
        later = {"pulse", "battery", "stand", "gel", "group", "channel", "uncertainty", "angle_deg"}
        self.assertFalse(later & set(exported["lights"][0]))

    def test_figures_are_trusted_by_where_they_come_from_or_by_a_number(self) -> None:
        found = {"gn_m": "measured", "loss": 0.5, "hss_toll": "class"}
        light = setup_of(noon_with("lights.0.uncertainty", found)).key
        self.assertEqual(light.uncertainty, LightUncertainty(0.3, 0.5, 0.8))
        self.assertEqual(setup_of(NOON).key.uncertainty, LightUncertainty(1.0, 0.8, 0.7))

    def test_a_time_with_or_without_its_offset(self) -> None:
        place = {"lat": 42.46, "lon": 0.71, "tz": "Europe/Madrid"}
        for time in ("2027-06-19T16:20", "2027-06-19T14:20Z", "2027-06-19T16:20+02:00"):
            moment = setup_of(noon_with("scene.place", {**place, "time": time})).scene.moment
            self.assertEqual(moment and moment.time, MOMENT.time)

    def test_notes_pass_untouched(self) -> None:
        notes = {"any": ["thing", {"deep": None}]}
        self.assertEqual(canonical({**NOON, "notes": notes})["notes"], notes)

    def test_times_as_on_a_dial_or_in_seconds(self) -> None:
        self.assertEqual(canonical(noon_with("camera.slowest_s", 30))["camera"]["slowest_s"], 30)
        for given_time in ("1/200", 0.005, "0.005", 2 ** (-23 / 3)):
            with self.subTest(time=given_time):
                self.assertEqual(
                    setup_of(noon_with("camera.sync_s", given_time)).camera.sync.label, "1/200"
                )

    def test_each_fault_is_named(self) -> None:
        two = [{"name": "a", "stops": 3}, {"name": "a", "stops": 6}]
        cases: list[tuple[str, Any, str]] = [
            ("scene.ev100.background", 41, "scene.ev100.background: 41 is outside −10 … 20"),
            ("scene.ev100.background", "14", 'scene.ev100.background: "14" is not a number'),
            ("scene.ev100.background", True, "scene.ev100.background: true is not a number"),
            ("scene.ev100.background", None, "scene.ev100.background: null is not a number"),
            ("scene.ev100.background", float("nan"), "scene.ev100.background: NaN is not a number"),
            ("scene.ev100.sky", float("inf"), "scene.ev100.sky: infinity is outside −10 … 20"),
            ("scene.ev100.moon", 3, "scene.ev100.moon: is not a field of this document"),
            ("scene.subject_distance_m", 0, "scene.subject_distance_m: 0 is outside 0.1 … 1000 m"),
            (
                "scene.subject_distance_m",
                50,
                "scene.background_distance_m: 40 m is nearer than the subject at 50 m",
            ),
            ("lights.0.distance_m", -2, "lights[0].distance_m: −2 is outside 0.1 … 200 m"),
            ("lights.0.count", 1.5, "lights[0].count: 1.5 is not a whole number"),
            (
                "lights.0.role",
                "sun",
                'lights[0].role: "sun" is not one of key, fill, rim, background',
            ),
            ("lights", [], "lights: exactly one key light is needed, not 0"),
            ("lights", NOON["lights"] * 2, "lights: exactly one key light is needed, not 2"),
            (
                "camera.fastest_s",
                "1/100",
                "camera.sync_s: 1/200 is faster than the fastest time, 1/100",
            ),
            ("camera.sync_s", "1/0", "camera.sync_s: ‘1/0’ is not a number. Try 1/128 or 0.5"),
            ("camera.sync_s", "fast", "camera.sync_s: ‘fast’ is not a number. Try 1/128 or 0.5"),
            ("camera.sync_s", "1/9500", "camera.sync_s: 0.0001052632 is outside 1/8000 … 30 s"),
            ("camera.dial_steps", 4, "camera.dial_steps: 4 is not one of 1, 2, 3"),
            ("lens.widest", 22, "lens.widest: f/22 is smaller than the smallest, f/16"),
            (
                "intent.aperture",
                1.4,
                "intent.aperture: f/1.4 is outside what the lens reaches, f/1.8 … f/16",
            ),
            (
                "intent.flash",
                {"school": "share", "share": 1},
                "intent.flash.share: 1 is outside 0 … 1, ends excluded",
            ),
            (
                "intent.flash",
                {"school": "share"},
                "intent.flash.share: is needed for the school 'share'",
            ),
            ("filters", two, "filters: two filters are named 'a'"),
            ("filters.0.stops", [5, 2], "filters[0].stops: the least, 5, is over the most, 2"),
            ("format", "other", "format: \"other\" is not 'noggin-setup'"),
            ("version", 2, "version: 2 is newer than 1, the newest that can be read"),
            ("name", "a\nb", "name: holds control characters"),
            ("notes", [float("nan")], "notes: holds NaN or infinity"),
            ("lights.0.group", "AB", 'lights[0].group: "AB" is not one letter from A to Z'),
            ("lights.0.gel", "plum", 'lights[0].gel: "plum" is not one of full_cto, half_cto, quarter_cto'),
            (
                "lights.0.uncertainty",
                {"gn_m": "hearsay"},
                'lights[0].uncertainty.gn_m: "hearsay" is neither a number of stops nor one of'
                " measured, assumed, class, brochure",
            ),
            (
                "lights.0.pulse",
                {"head": "cut", "t05_s": "1/800", "table": [["1/2", "1/900"], ["1/1", "1/300"]]},
                "lights[0].pulse.table: must run from full power down, each power once",
            ),
            (
                "camera.curtain_s",
                "1/60",
                "camera.curtain_s: 1/60 is longer than the sync time, 1/200",
            ),
            (
                "scene.place",
                {"lat": 1, "lon": 2, "tz": "UTC", "time": "noon"},
                'scene.place.time: "noon" is not a time like 2027-06-19T12:30+02:00',
            ),
            (
                "scene.place",
                {"lat": 1, "lon": 2, "tz": "../etc/passwd", "time": "2027-06-19T12:30"},
                'scene.place.tz: "../etc/passwd" is not a time zone like Europe/Madrid',
            ),
            (
                "scene.place",
                {"lat": 1, "lon": 2, "tz": "UTC", "time": "1802-06-19T12:30"},
                "scene.place.time: 1802 is outside 1900 … 2100",
            ),
        ]
        for path, value, said in cases:
            with self.subTest(path=path, value=value):
                self.assertEqual(faults(noon_with(path, value)), [said])

    def test_every_fault_is_told_at_once(self) -> None:
        document = noon_with("scene.ev100.background", 41)
        document["lens"]["focal_mm"] = -1
        del document["camera"]["sync_s"]
        self.assertEqual(
            [fault.split(":")[0] for fault in faults(document)],
            ["scene.ev100.background", "camera.sync_s", "lens.focal_mm"],
        )


class Reading(unittest.TestCase):
    def test_what_is_not_one_json_object_is_refused(self) -> None:
        cases = (
            (b"", "the document is empty"),
            (b"  \n", "the document is empty"),
            (raw(NOON)[:-9], "this is not JSON: unterminated string starting at line 1, column 4"),
            (b"[1]", "the document is [1], not an object"),
            (b"\xff\xfe{}", "the document is not UTF-8 text"),
            (b'{"name": "\\ud800"}', "the document is not UTF-8 text"),
            (b'{"a": 1, "a": 2}', "a: appears twice in one object"),
            (b" " * (1024 * 1024 + 1), "the document is larger than 1024 KiB"),
            (b'{"notes":' + b"[" * 40 + b"]" * 40 + b"}", "the document is nested more than 32 deep"),
            (b"[" * 100_000, "the document is nested more than 32 deep"),
            (b'{"a": ' + b"9" * 5000 + b"}", "a number has too many digits"),
        )
        for given_bytes, said in cases:
            with self.subTest(said=said, start=given_bytes[:12]), self.assertRaises(BadDocument) as caught:
                read_object(given_bytes)
            self.assertTrue(str(caught.exception).startswith(said), str(caught.exception))

    @given(st.binary(max_size=60))
    def test_any_bytes_are_refused_in_words(self, junk: bytes) -> None:
        self.assertTrue(all(faults(junk)))
        self.assertTrue(faults(junk))

    @given(
        st.integers(0, len(json.dumps(NOON)) - 1), st.sampled_from(['"', "9", "{", "]", "null", "-", "e9"])
    )
    def test_a_spoilt_document_is_refused_or_read_and_never_breaks(self, at: int, junk: str) -> None:
        text = json.dumps(NOON)
        for fault in faults((text[:at] + junk + text[at + 1 :]).encode()):
            self.assertEqual(len(fault.splitlines()), 1)
