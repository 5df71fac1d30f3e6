"""The pops document: what comes in is checked by name, what goes out is as it is written down."""

import json
import unittest
from copy import deepcopy
from math import log2
from typing import Any, ClassVar

from click.testing import CliRunner

from noggin.cli import main
from noggin.core.pops.frame import BandSeen, ClippedSeen, LevelSeen, MeterSeen, ShareSeen
from noggin.documents.pops import answer, read_pops
from noggin.documents.problems import BadDocument
from tests.support import NOON, noon_with

POPS: dict[str, Any] = {
    "format": "noggin-pops",
    "version": 1,
    "setup": noon_with("scene.ev100", {"background": 14.6, "subject": 12, "sky": 15.1}),
    "way": "nd",
    "frames": [
        {
            "minute": 0,
            "flash": False,
            "dialled": {
                "shutter": "1/200",
                "aperture": 2.0,
                "iso": 100,
                "filters": ["6-stop ND"],
                "powers": {},
            },
            "seen": [{"zone": "background", "level": -0.7, "by": "words"}],
        },
        {
            "minute": 2,
            "flash": True,
            "dialled": {
                "shutter": "1/200",
                "aperture": 2.0,
                "iso": 100,
                "filters": ["6-stop ND"],
                "powers": {"Key": "1/2"},
                "hss": False,
            },
            "seen": [
                {"zone": "subject", "level": 0.4, "by": "raw"},
                {"zone": "sky", "clipped": True, "by": "histogram"},
                {"light": "Key", "meter": "f/2.8", "by": "meter"},
                {"zone": "subject", "flash_share": 0.8, "by": "meter"},
                {"band": "bottom"},
            ],
        },
    ],
}


def pops_with(**frame: Any) -> dict[str, Any]:
    """The example with the last frame changed."""
    document = deepcopy(POPS)
    document["frames"][-1] |= frame
    return document


class In(unittest.TestCase):
    def test_everything_that_can_be_seen_is_read(self) -> None:
        taken = read_pops(deepcopy(POPS))
        way, frames = taken.way, taken.frames
        self.assertEqual((way.key, frames[1].minute, frames[1].flash), ("nd", 2, True))
        self.assertEqual(frames[1].dialled.powers, {0: 1.0})
        self.assertEqual(frames[1].dialled.settings.stack.stops, 6)
        kinds = [type(one) for one in frames[1].seen]
        self.assertEqual(kinds, [LevelSeen, ClippedSeen, MeterSeen, ShareSeen, BandSeen])

    def test_a_patch_of_skin_is_no_card(self) -> None:
        seen = [{"zone": "subject", "level": 0.5, "by": "raw", "surface": "fair skin"}]
        frames = read_pops(pops_with(seen=seen)).frames
        # 35 % against 11.9 %: log2(R/0.119), ISO 2720 constants.
        self.assertAlmostEqual(frames[1].seen[0].level, 0.5 - log2(0.35 / 0.119), 9)  # type: ignore[union-attr]

    def test_what_is_wrong_is_named(self) -> None:
        dialled = POPS["frames"][1]["dialled"]
        for changed, words in (
            ({"dialled": {**dialled, "filters": ["Red"]}}, "there is no filter ‘Red’"),
            ({"dialled": {**dialled, "powers": {"Sun": "1/2"}}}, "there is no light ‘Sun’"),
            ({"dialled": {**dialled, "powers": {"Key": "loud"}}}, "loud"),
            ({"dialled": {**dialled, "shutter": "1/0"}}, "frames[1].dialled.shutter"),
            ({"seen": [{"zone": "moon", "level": 0}]}, "zone"),
            ({"seen": [{"zone": "sky"}]}, "say what was seen"),
            ({"seen": [{"flash_share": 1.2}]}, "1.2 is not between 0 and 1"),
            ({"seen": [{"zone": "subject", "level": 0, "surface": "gold"}]}, "surface"),
            ({"minute": -1}, "frames[1].minute"),
        ):
            with self.subTest(words=words), self.assertRaises(BadDocument) as caught:
                read_pops(pops_with(**changed))
            self.assertIn(words, str(caught.exception))

    def test_faults_of_the_set_up_are_named_inside_it_and_time_runs_on(self) -> None:
        document = deepcopy(POPS)
        document["setup"]["lights"][0]["gn_m"] = -1
        with self.assertRaisesRegex(BadDocument, r"setup\.lights\[0\]\.gn_m"):
            read_pops(document)
        backwards = deepcopy(POPS)
        backwards["frames"].reverse()
        with self.assertRaisesRegex(BadDocument, "minutes go back"):
            read_pops(backwards)


class Out(unittest.TestCase):
    def test_the_answer_is_as_it_is_written_down(self) -> None:
        seen = [
            {"zone": "subject", "level": 0.9, "by": "raw"},
            {"zone": "background", "level": -1, "by": "raw"},
        ]
        found = answer(read_pops(pops_with(seen=seen))).model_dump()
        self.assertEqual(
            list(found), ["format", "version", "offsets", "levels", "faults", "next", "done", "why"]
        )
        self.assertEqual(
            set(found["offsets"]), {"background", "subject", "sky", "Large head", "toll", "filters"}
        )
        change = found["next"]
        self.assertEqual((change["control"], change["light"]), ("power", "Large head"))
        self.assertEqual(change["dialled"]["powers"], {"Large head": change["to"]})
        self.assertLess(abs(change["expected"]["subject"]), 0.34)
        # What is advised can be dialled and comes in again.
        after = deepcopy(POPS)
        after["frames"].append({"minute": 3, "flash": True, "dialled": change["dialled"], "seen": []})
        self.assertEqual(len(read_pops(after).frames), 3)

    def test_a_fault_is_told_and_nothing_is_to_be_changed_before_it_is_looked_at(self) -> None:
        seen = [
            {"zone": "subject", "level": -3.7, "by": "raw"},
            {"zone": "background", "level": -1, "by": "raw"},
        ]
        found = answer(read_pops(pops_with(seen=seen)))
        self.assertEqual(found.faults[0].fault, "no_flash")
        self.assertIsNone(found.next)
        self.assertIn("Did the flash fire?", found.why)
        self.assertFalse(found.done)


class Intentions(unittest.TestCase):
    """A take holds several looks, and a zone may be right as it came out."""

    SEEN: ClassVar = [
        {"zone": "background", "level": -1.9, "by": "raw"},
        {"zone": "subject", "level": 0.0, "by": "raw"},
    ]

    def answered(self, document: dict[str, Any]) -> Any:
        return answer(read_pops(document))

    def test_a_zone_that_is_wanted_as_it_came_out_is_right_from_then_on(self) -> None:
        document = pops_with(seen=self.SEEN)
        document["frames"] = document["frames"][1:]
        self.assertFalse(self.answered(document).done)
        document["frames"][0]["wanted"] = ["background"]
        found = self.answered(document)
        self.assertTrue(found.done, found.why)
        document["frames"][0]["wanted"] = ["sky"]
        with self.assertRaisesRegex(BadDocument, "wanted"):
            read_pops(document)

    def test_every_look_has_a_meaning_of_its_own_and_shares_what_is_known(self) -> None:
        document = pops_with(seen=self.SEEN)
        document["looks"] = [{"name": "dramatic", "background_level": -2}]
        last = document["frames"][-1]
        document["frames"].append({**last, "minute": 3, "look": "dramatic"})
        found = self.answered(document)
        self.assertTrue(found.done, found.why)
        # Back to the first one, by all that the others said: what it takes is dialled at once.
        document["frames"][-1] |= {"look": None}
        first = self.answered(document)
        self.assertFalse(first.done)
        document["frames"][-1] |= {"look": "noir"}
        with self.assertRaisesRegex(BadDocument, "there is no look ‘noir’"):
            read_pops(document)

    def test_another_way_takes_what_is_known_along(self) -> None:
        document = pops_with(seen=self.SEEN)
        document["way"] = "hss"
        found = self.answered(document)
        assert found.next is not None
        dialled = found.next.dialled
        self.assertTrue(dialled["hss"])
        self.assertEqual(dialled["filters"], [])
        # Daylight was found 0.9 under: 0.9 stop less of it is to be taken away by the shutter.
        self.assertAlmostEqual(found.next.expected["background"], -1.0, delta=0.2)


class Automatic(unittest.TestCase):
    """Automatic flash is dialled by its compensation, and judged as such."""

    def document(self, compensation: float, subject: float) -> dict[str, Any]:
        document = pops_with(seen=[{"zone": "subject", "level": subject, "by": "raw"}])
        document["setup"]["intent"]["flash"] = {"school": "auto"}
        dialled = document["frames"][1]["dialled"]
        dialled |= {"powers": {}, "compensation": compensation}
        document["frames"] = document["frames"][1:]
        return document

    def test_a_face_that_is_under_raises_the_compensation_in_thirds(self) -> None:
        found = answer(read_pops(self.document(0.0, -0.9)))
        assert found.next is not None
        self.assertEqual((found.next.control, found.next.light), ("power", "Large head"))
        self.assertEqual(found.next.dialled["powers"], {})
        raised = found.next.dialled["compensation"]
        self.assertAlmostEqual(raised * 3, round(raised * 3))
        self.assertAlmostEqual(raised, 0.9, delta=0.34)

    def test_it_is_for_automatic_flash_alone(self) -> None:
        document = self.document(0.0, 0.0)
        document["setup"]["intent"]["flash"] = {"school": "total"}
        with self.assertRaisesRegex(BadDocument, "dialled.compensation"):
            read_pops(document)


class Terminal(unittest.TestCase):
    def test_it_speaks_in_sentences(self) -> None:
        seen = [
            {"zone": "subject", "level": 0.9, "by": "raw"},
            {"zone": "background", "level": -1, "by": "raw"},
        ]
        found = CliRunner().invoke(main, ["pops", "-"], input=json.dumps(pops_with(seen=seen)))
        self.assertEqual(found.exit_code, 0, found.output)
        self.assertRegex(found.output, r"Next: set power of Large head to \S+")
        self.assertRegex(found.output, r"background +−1\.0 ± 0\.\d")
        self.assertRegex(found.output, r"\d+% likely that both are right")

    def test_one_document_and_one_a_line(self) -> None:
        whole = CliRunner().invoke(main, ["pops", "--json", "-"], input=json.dumps(POPS))
        self.assertEqual(whole.exit_code, 0, whole.output)
        lines = f"{json.dumps(POPS)}\n\n{json.dumps(POPS)}\n"
        listed = CliRunner().invoke(main, ["pops", "--lines", "-"], input=lines)
        answers = [json.loads(line) for line in listed.output.splitlines()]
        self.assertEqual(answers, [json.loads(whole.output)] * 2)

    def test_a_bad_line_is_told_by_its_number(self) -> None:
        found = CliRunner().invoke(
            main, ["pops", "--lines", "-"], input=f"{json.dumps(POPS)}\n{json.dumps(NOON)}\n"
        )
        self.assertEqual(found.exit_code, 2)
        self.assertIn("line 2: format", found.stderr)
