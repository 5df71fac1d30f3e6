"""At the spot by one thumb, and files of frames brought in, in a real browser."""

import json
import tempfile
from datetime import datetime, timedelta, timezone
from pathlib import Path
from random import Random
from typing import Any
from unittest.mock import patch

from playwright.sync_api import Page, expect

from noggin.devices.simulated_camera import Exposure, FileCamera, View
from noggin.services.frames import log
from noggin.services.setups import setups as services
from tests.e2e.browser import PHONE, Browser

SIZE = {"width": PHONE[0], "height": PHONE[1]}
RAW = 30_000_000
"""Bytes of a raw file of a camera of 24 megapixels, 14 bits, with its previews."""
AT = datetime(2027, 6, 19, 13, 20, tzinfo=timezone(timedelta(hours=2)))


class ByThumb(Browser):
    def word(self, page: Page, zone: str, word: str) -> None:
        """One tap on a word."""
        group = page.get_by_role("group", name=zone)
        group.locator("label").filter(has=page.get_by_text(word, exact=True)).tap()

    def test_the_next_pop_is_entered_in_three_taps_above_the_fold(self) -> None:
        page = self.open("/setups/1/shoot", viewport=SIZE, has_touch=True)
        expect(page.get_by_role("heading", name="First frame: flash off")).to_be_visible()
        for zone in ("Background", "Faces"):
            row = page.get_by_role("group", name=zone).bounding_box()
            assert row is not None
            self.assertLess(row["y"] + row["height"], PHONE[1])
        self.word(page, "Background", "right")
        self.word(page, "Faces", "a little under")
        page.get_by_role("button", name="Keep this frame").tap()
        expect(page.get_by_role("heading", name="1 frame, the last one first")).to_be_visible()
        expect(page.get_by_role("heading", name="Dial now")).to_be_visible()
        # Nothing is chosen beforehand for the next one.
        self.assertEqual(page.locator(".saw-word:checked").count(), 0)
        self.word(page, "Faces", "right")
        self.word(page, "Background", "right")
        page.get_by_role("button", name="Keep this frame").tap()
        expect(page.get_by_role("heading", name="2 frames, the last one first")).to_be_visible()
        self.clean(page)
        self.assertEqual(self.said, [])

    def enter(self, page: Page, frames: int, **words: str) -> None:
        """One frame by its words; waits until it is kept."""
        for zone, word in words.items():
            self.word(page, zone, word)
        page.get_by_role("button", name="Keep this frame").tap()
        heading = f"{frames} frame{'s' if frames > 1 else ''}, the last one first"
        expect(page.get_by_role("heading", name=heading)).to_be_visible()

    def test_a_way_that_falls_short_is_kept_for_five_frames(self) -> None:
        # The speedlight falls short in high-speed sync at noon; whoever wants it has it to the end.
        page = self.open("/setups/2/shoot?way=hss", viewport=SIZE, has_touch=True)
        expect(page.locator(".dial-way")).to_have_text("High-speed sync")
        said = ("right", "a little under", "under", "a little under", "right")
        for frames, word in enumerate(said, start=1):
            self.enter(page, frames, Background="right", Faces=word)
            if page.get_by_role("button", name="Yes : no flash fired").count():
                page.get_by_role("button", name="Yes : no flash fired").tap()  # it did fire
            expect(page.locator(".dial-way")).to_have_text("High-speed sync")
            expect(page.locator(".dial-filter")).to_contain_text("high-speed sync on")
            time = page.locator(".dial-camera").inner_text()
            self.assertRegex(time, r"^1/\d{4} ")
        page.reload()
        expect(page.locator(".dial-way")).to_have_text("High-speed sync")
        self.clean(page)
        self.assertEqual(self.said, [])

    def test_the_rows_stay_where_they_are_from_frame_to_frame(self) -> None:
        """A second tap never lands in another row, whatever the advice above it says."""
        page = self.open("/setups/1/shoot", viewport=SIZE, has_touch=True)
        places = """() => [...document.querySelectorAll(
            "fieldset.saw:not(details *), .pop-go")].map((node) => [
            node.querySelector("legend")?.firstChild.textContent.trim(),
            node.getBoundingClientRect().top,
        ])"""
        at_first = page.evaluate(places)
        self.assertEqual([label for label, _ in at_first], ["Background", "Faces", None])
        said = (
            ("right", "a little under"),
            ("under", "right"),
            ("far over", "far under"),
            ("right", "right"),
        )
        for frames, (background, face) in enumerate(said, start=1):
            self.enter(page, frames, Background=background, Faces=face)
            with self.subTest(frames=frames, heading=page.locator("#dial-title").inner_text()):
                now = page.evaluate(places)
                self.assertEqual([label for label, _ in now], [label for label, _ in at_first])
                for (_, top), (_, before) in zip(now, at_first, strict=True):
                    self.assertAlmostEqual(top, before, delta=2)

    def test_a_look_is_added_and_a_zone_taken_as_it_came_out(self) -> None:
        page = self.open("/setups/1/shoot", viewport=SIZE, has_touch=True)
        self.enter(page, 1, Background="right", Faces="right")
        self.enter(page, 2, Background="under", Faces="right")
        page.get_by_role("button", name="That is how I want the background").tap()
        wanted = page.get_by_role("button", name="That is how I want the background")
        expect(wanted).to_have_attribute("aria-pressed", "true")
        expect(page.get_by_role("group", name="Background")).not_to_contain_text("meant −1.0")
        page.get_by_text("Another look or another method").tap()
        page.get_by_role("button", name="dramatic").tap()
        expect(page.locator(".dial-way")).to_contain_text("dramatic, −1.8")
        expect(page.get_by_role("group", name="Background")).to_contain_text("meant −1.8")
        self.enter(page, 3, Background="right", Faces="right")
        self.clean(page)
        # Side by side in the log.
        page = self.open(f"/log/{self.newest_frame()}", viewport=SIZE)
        expect(
            page.get_by_role("heading", name="The looks of this take, the last frame of each")
        ).to_be_visible()
        expect(page.locator(".log-looks-row a")).to_have_count(2)
        self.clean(page)
        self.assertEqual(self.said, [])

    def newest_frame(self) -> int:
        """The number of the frame that was kept last."""
        kept = self.store.takes.latest(1, self.wiring.clock() + timedelta(minutes=5))
        assert kept is not None
        return max(frame.id for frame in self.store.frames.of_take(kept.id))

    def test_checks_are_ticked_by_keyboard_and_stay(self) -> None:
        page = self.open("/setups/1/shoot")
        check = page.get_by_role("button", name="Camera on manual")
        check.focus()
        page.keyboard.press("Enter")
        expect(check).to_have_attribute("aria-pressed", "true")
        expect(check).to_be_focused()
        page.reload()
        expect(page.get_by_role("button", name="Camera on manual")).to_have_attribute(
            "aria-pressed", "true"
        )

    def test_a_rehearsal_goes_all_the_way(self) -> None:
        page = self.open("/setups/2/shoot", viewport=SIZE)
        self.wiring.chance = Random(7)  # noqa: S311 - the same place each time
        page.get_by_role("button", name="Rehearse with a simulated spot").click()
        expect(page.get_by_text("Rehearsal.")).to_be_visible()
        page.get_by_role("button", name="Take a simulated frame, flash off").click()
        page.get_by_role("button", name="Fire a simulated frame").click()
        expect(page.get_by_role("heading", name="2 frames, the last one first")).to_be_visible()
        page.get_by_label("Seen by").select_option("raw")
        page.get_by_label("What goes wrong").select_option("filter_left_off")
        page.get_by_role("button", name="Fire a simulated frame").click()
        expect(page.get_by_text("Is the filter on the lens?")).to_be_visible()
        self.clean(page)
        page.get_by_role("button", name="No : the filter is not on the lens").click()
        expect(page.get_by_text("Explained: the filter is not on the lens.")).to_be_visible()
        self.assertEqual(self.said, [])


class Files(Browser):
    def test_files_come_in_one_by_one_and_say_how_far_they_are(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        names = []
        for index in range(3):
            taken = Exposure(1 / 160, 2.0, 100, 85, True, AT + timedelta(minutes=index))
            view = View({"background": -1.0, "subject": 0.1 * index, "sky": 0.3})
            path = Path(folder.name) / f"IMG_{index}.jpg"
            path.write_bytes(FileCamera(index).jpeg(view, taken))
            names.append(path)
        raw = Path(folder.name) / "IMG_8.dng"
        taken = Exposure(1 / 160, 2.0, 100, 85, True, AT + timedelta(minutes=8))
        raw.write_bytes(
            FileCamera(8).dng(View({"background": -1.0, "subject": 0.1}), taken).ljust(RAW, b"\0")
        )
        broken = Path(folder.name) / "IMG_9.jpg"
        broken.write_bytes(names[0].read_bytes()[:800])
        page = self.open("/log/frames", viewport=SIZE)
        page.get_by_label("Files, or a whole folder dropped here").set_input_files([*names, raw, broken])
        page.get_by_role("button", name="Take them in").click()
        expect(page.locator("#bring-in-said")).to_have_text("4 new, 0 known already, 1 skipped")
        expect(page.locator("#taken li")).to_have_count(5)
        expect(page.locator("#taken")).to_contain_text("Orchard wall, both of them")
        # The page is made anew for what came in: its own list and summary stay.
        services.enter(self.store, self.wiring.clock, 1, "aperture", "8")
        with page.expect_response(lambda answer: answer.url.endswith("/log/frames")):
            page.evaluate("document.activeElement?.blur(); dispatchEvent(new Event('focus'))")
        expect(page.locator("#saving")).to_have_text("Saved")
        expect(page.locator("#bring-in-said")).to_have_text("4 new, 0 known already, 1 skipped")
        expect(page.locator("#taken li")).to_have_count(5)
        self.clean(page)
        page.get_by_label("Files, or a whole folder dropped here").set_input_files(names)
        page.get_by_role("button", name="Take them in").click()
        expect(page.locator("#bring-in-said")).to_have_text("0 new, 3 known already, 0 skipped")
        self.assertEqual(self.said, [])

    def test_a_long_log_comes_in_in_pieces_and_says_how_far_it_is(self) -> None:
        one = json.loads(self.client.get("/log.json").text)["frames"][0]
        frames = [
            {**one, "sha256": None, "taken": (AT - timedelta(days=900, minutes=index)).isoformat()}
            for index in range(50)
        ]
        document = json.dumps({"format": "noggin-log", "version": 1, "frames": frames})
        piece = patch.object(log, "A_PIECE", 20)
        piece.start()
        self.addCleanup(piece.stop)
        page = self.open("/log")
        sent: list[str] = []
        page.on("request", lambda asked: sent.append(asked.url) if asked.method == "POST" else None)
        form = page.locator("form.log-document").last
        form.locator("xpath=ancestor::details").evaluate_all(
            "all => all.forEach((one) => { one.open = true; })"
        )
        file: Any = {"name": "log.json", "mimeType": "application/json", "buffer": document.encode()}
        for said in ("50 new, 0 known already", "0 new, 50 known already"):
            form.locator("input[type=file]").set_input_files(file)
            form.get_by_role("button", name="Take it in").click()
            expect(form.get_by_role("status")).to_have_text(said)
        self.assertEqual(len([url for url in sent if url.endswith("/log/import")]), 6)
        self.clean(page)

    def test_the_log_narrows_as_one_types(self) -> None:
        page = self.open("/log")
        expect(page.locator(".log-row")).to_have_count(40)
        page.get_by_label("Find").fill("green light")
        expect(page.locator(".log-row")).to_have_count(7)
        page.get_by_label("What came of it").select_option("daylight")
        expect(page.locator(".log-row")).to_have_count(1)
        page.locator(".log-row a").click()
        expect(page.get_by_role("heading", level=1)).to_contain_text("Orchard wall, both of them")
        self.clean(page)
        self.assertEqual(self.said, [])
