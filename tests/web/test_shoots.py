"""Shoots on their pages: a day made, set-ups moved along it and undone, readings, best times, documents."""

import csv
import io
import json
import re
from datetime import UTC, datetime, timedelta
from html import unescape
from typing import Any
from unittest.mock import patch
from zoneinfo import ZoneInfo

import icalendar
from sqlalchemy import text

from noggin.core.daylight.sky import daylight
from noggin.core.daylight.sun import sun_at
from noggin.core.planning.verdicts import HOLDS
from noggin.core.planning.ways import WAYS
from noggin.core.shoot.timeline import planned, verdict_at
from noggin.documents.shoot import read_shoot
from noggin.services.day import shoot_document, shoots
from noggin.services.day.shoots import ShootDay
from noggin.services.day.slot_detail import slot_detail
from noggin.services.keeping import kept, results
from noggin.services.setups import setups
from tests.documents.test_shoot_document import GEOJSON
from tests.support import NOON, AppCase
from tests.web.test_pages import PART

NEW = {"name": "Quarry", "date": "2027-06-19", "place": "42°27′36″ N 0°42′36″ E", "tz": "Europe/Madrid"}


def words(page: str) -> str:
    """A page with its white space drawn together."""
    return " ".join(unescape(page).split())


class ShootCase(AppCase):
    database = "demo"

    def setUp(self) -> None:
        super().setUp()
        self.number = shoots.listed_shoots(self.store)[0][0].id

    def day(self) -> ShootDay:
        return shoots.open_shoot(self.store, self.wiring.clock, self.number)

    def get(self, url: str, status: int = 200) -> str:
        answer = self.client.get(url)
        self.assertEqual(answer.status_code, status, url)
        return words(answer.text)

    def post(self, url: str, status: int = 200, **data: Any) -> str:
        answer = self.client.post(
            f"/shoots/{self.number}{url}", data=data, headers=PART, follow_redirects=True
        )
        self.assertEqual(answer.status_code, status, url)
        return words(answer.text)

    def rows(self, table: str) -> list[Any]:
        """A table of the database, as it stands."""
        with self.store._engine.connect() as connection:
            return list(connection.execute(text(f"select * from {table} order by 1")).fetchall())


class Making(ShootCase):
    def test_a_day_from_place_date_and_zone(self) -> None:
        page = unescape(self.client.post("/shoots", data=NEW, follow_redirects=True).text)
        self.assertIn("Quarry, 19 June 2027", page)
        self.assertIn("sunrise 06:19, highest at 13:58, 71°, sunset 21:37", page)
        self.assertIn("No set-up is on this day yet", page)
        made = next(day for day in shoots.listed_shoots(self.store)[0] if day.name == "Quarry")
        self.assertEqual((made.shoot.place.lat, made.shoot.place.lon), (42.46, 0.71))

    def test_what_cannot_be_stands_beside_its_field_and_nothing_typed_is_lost(self) -> None:
        answer = self.client.post(
            "/shoots", data={"name": "", "date": "19 Junember", "place": "up there", "tz": "Spain"}
        )
        self.assertEqual(answer.status_code, 422)
        page = unescape(answer.text)
        for typed in ("19 Junember", "up there", "Spain"):
            self.assertIn(f'value="{typed}"', page)
        for said in ("is empty", "is not a date", "no town called ‘up there’", "is not a time zone"):
            self.assertIn(said, page)
        beyond = self.client.post("/shoots", data={**NEW, "place": "95, 0"})
        self.assertEqual(beyond.status_code, 422)
        self.assertIn("95 is outside −90 … 90", unescape(beyond.text))
        self.assertEqual(len(shoots.listed_shoots(self.store)[0]), 1)

    def test_a_name_that_is_taken_gets_a_number(self) -> None:
        for _ in range(2):
            self.client.post("/shoots", data=NEW)
        names = {day.name for day in shoots.listed_shoots(self.store)[0]}
        self.assertLessEqual({"Quarry", "Quarry 2"}, names)

    def test_archived_and_brought_back(self) -> None:
        self.client.post(f"/shoots/{self.number}/archive")
        self.assertIn("Bring back Wedding", self.get("/shoots"))
        self.get(f"/shoots/{self.number}", status=404)
        self.client.post(f"/shoots/{self.number}/bring-back")
        self.assertIn("Wedding at the hilltop observatory", self.get(f"/shoots/{self.number}"))


class FromTheBench(AppCase):
    """A set-up is put on a day where one works on it; place and date are asked once."""

    def setUp(self) -> None:
        super().setUp()
        self.number = setups.new_setup(self.store, self.wiring.clock)

    def test_without_place_and_day_it_says_what_to_do_first(self) -> None:
        rest = self.client.get(f"/setups/{self.number}").text
        self.assertIn("On no day yet", rest)
        self.assertIn("Give place, date and time under Daylight", rest)
        self.assertEqual(
            self.client.post(f"/setups/{self.number}/days", data={"shoot": "new"}).status_code, 422
        )
        self.assertEqual(
            self.client.post(f"/setups/{self.number}/days", data={"shoot": "99"}).status_code, 404
        )

    def test_a_new_day_has_the_place_and_the_date_of_the_set_up_once(self) -> None:
        text = "Ronda, Spain 19 June 2027 18:40"
        self.client.post(f"/setups/{self.number}/figures/where", data={"text": text})
        page = unescape(self.client.get(f"/setups/{self.number}").text)
        self.assertIn("a new day, 19 June 2027", page)
        data = {"shoot": "new", "once": "abc"}
        answer = self.client.post(f"/setups/{self.number}/days", data=data)
        self.assertEqual(answer.status_code, 303)
        self.assertEqual(self.client.post(f"/setups/{self.number}/days", data=data).status_code, 409)
        (made,) = shoots.listed_shoots(self.store)[0]
        self.assertEqual((made.shoot.date, made.shoot.place.tz), ("2027-06-19", "Europe/Madrid"))
        self.assertAlmostEqual(made.shoot.place.lat, 36.742, delta=0.001)
        self.assertEqual([(slot.setup, slot.start) for slot in made.shoot.slots], [(self.number, "18:40")])
        self.assertIn("On the day:", self.client.get(f"/setups/{self.number}").text)

    def test_a_set_up_without_a_place_takes_that_of_the_day_and_its_light(self) -> None:
        day = shoots.new_shoot(
            self.store,
            self.wiring.clock,
            {"name": "Bridge", "date": "19 June 2027", "place": "Ronda, Spain"},
        )
        self.assertNotEqual(setups.open_setup(self.store, self.number).assumed, "")
        self.client.post(f"/setups/{self.number}/days", data={"shoot": str(day)})
        opened = setups.open_setup(self.store, self.number)
        moment = opened.setup.scene.moment
        assert moment
        self.assertEqual(moment.time.isoformat(), "2027-06-19T12:00:00+02:00")
        self.assertEqual(opened.assumed, "")

    def test_the_bench_says_of_the_day_what_the_day_says(self) -> None:
        self.client.post(
            f"/setups/{self.number}/figures/where", data={"text": "Ronda, Spain 19 June 2027 18:40"}
        )
        self.client.post(f"/setups/{self.number}/days", data={"shoot": "new"})
        (made,) = shoots.listed_shoots(self.store)[0]
        day = self.client.get(f"/shoots/{made.id}").text
        bench = self.client.get(f"/setups/{self.number}/days/{made.id}/0/nd").text

        def says(page: str) -> list[str]:
            line = re.search(r'class="row-way.*?</span>\s*(?=</p>|</span>)', page, re.DOTALL)
            assert line
            words = line[0].split(">", 1)[1].removeprefix("The day plans:")
            return re.sub(r"<[^>]+>|The day plans:", " ", words).split()

        self.assertEqual(says(bench), says(day))
        self.assertGreater(len(says(day)), 3)


class TheDay(ShootCase):
    def test_the_demos_day_holds_every_way_and_finds_nothing_wrong(self) -> None:
        day = self.day()
        ways = {placed.way.key for placed in day.slots if placed.way and placed.way.feasible}
        self.assertEqual(ways, set(WAYS))
        self.assertGreaterEqual(len(day.slots), 7)
        self.assertEqual(day.checks, ())
        self.assertEqual(day.slots[0].name, "Sundial court, the sister alone")
        self.assertEqual(day.slots[-1].name, "Last dance on the terrace")

    def test_the_strip_says_until_when_each_way_holds(self) -> None:
        page = self.get(f"/shoots/{self.number}")
        day, seen = self.day(), 0
        for placed in day.slots:
            assert placed.slot
            self.assertIn(placed.name, page)
            found = re.match(r"until (\d\d):(\d\d)", day.until(placed.slot))
            if found and placed.way and placed.way.feasible:
                change = placed.slot.start.replace(hour=int(found[1]), minute=int(found[2]))
                before = change - timedelta(minutes=1)
                kind, placement, seen = placed.way.kind, placed.slot.placement, seen + 1
                self.assertEqual(verdict_at(placement, kind, before).verdict, HOLDS)
                self.assertNotEqual(verdict_at(placement, kind, change).verdict, HOLDS)
        self.assertGreater(seen, 3)
        self.assertIn("no method works: 0.9 stop too bright</span>", page)

    def test_a_set_up_is_typed_and_stepped_along_the_day(self) -> None:
        page = self.post("/figures/start-1", text="1640")
        self.assertIn('value="16:40"', page)
        for by, start in (("1", "16:45"), ("1", "16:50"), ("-1", "16:45")):
            self.assertIn(f'value="{start}"', self.post("/figures/start-1", by=by))
        self.assertIn("1 to 99 steps up or down", self.post("/figures/start-1", by="500", status=400))
        self.assertIn("notch", self.post("/figures/start-1", text="notch"))
        self.assertEqual(self.day().shoot.slots[1].start, "16:45")
        self.post("/figures/facing-1", by="1")
        self.assertEqual(self.day().shoot.slots[1].facing_deg, 170)
        self.post("/figures/minutes-1", text="1 h")
        self.assertEqual(self.day().shoot.slots[1].minutes, 60)
        self.post("/figures/start-99", text="12:00", status=404)
        self.post("/figures/people", by="1", status=404)

    def test_moving_a_set_up_and_undoing_it_leaves_the_database_as_it_was(self) -> None:
        def state() -> tuple[list[Any], list[Any], list[Any]]:
            kept = [
                (row.id, row.kind, row.document, row.entries, row.pinned, row.removed_at, row.step)
                for row in self.rows("kept")
            ]
            # Of the steps only the one that can be done again is more.
            steps = [tuple(row) for row in self.rows("step")]
            return kept, steps, self.rows("measurement")

        before = state()
        self.post("/figures/start-1", text="18:20")
        self.assertNotEqual(state()[0], before[0])
        self.assertNotEqual(self.day().shoot.slots[1].start, "13:10")
        self.post("/undo")
        after = state()
        self.assertEqual((after[0], after[2]), (before[0], before[2]))
        self.assertEqual(after[1][: len(before[1])], before[1])
        self.post("/redo")
        self.assertEqual(self.day().shoot.slots[1].start, "18:20")

    def test_another_sky_and_everything_follows(self) -> None:
        before = [placed.way.settings for placed in self.day().slots if placed.way]
        self.post("/figures/sky", text="overcast")
        day = self.day()
        self.assertEqual(day.shoot.sky, "overcast")
        self.assertNotEqual([placed.way.settings for placed in day.slots if placed.way], before)

    def test_set_ups_are_put_on_and_taken_off_and_may_be_archived(self) -> None:
        wired = self.wiring
        fresh = setups.import_setup(wired.store, wired.clock, dict(NOON))
        page = self.post("/setups", setup=fresh)
        self.assertIn("Noon, backlit couple", page)
        self.assertEqual(self.day().shoot.slots[-1].start, "23:05")  # an hour after the last
        self.post("/setups/8/remove")
        own = self.day().placed[1].setup_id
        self.post("/setups", setup=own)
        self.assertEqual(self.day().shoot.slots[-1].start, "13:10")  # at its own time
        kept.archive(wired.store, wired.clock, setups.SETUPS, own)
        page = self.get(f"/shoots/{self.number}")
        self.assertIn("A set-up on this day was archived", page)
        self.assertNotIn("Orchard wall, both of them</a>", page)
        exported = json.loads(self.client.get(f"/shoots/{self.number}/shoot.json").text)
        self.assertEqual(len(exported["slots"]), 7)
        self.post("/setups/77/remove", status=422)
        self.post("/setups", setup=4711, status=404)

    def test_what_is_wrong_is_said(self) -> None:
        page = self.post("/figures/start-2", text="13:20")
        self.assertIn(
            "‘Orchard wall, both of them’ and ‘Same wall, speedlight in an umbrella’ overlap", page
        )
        self.assertIn("3-stop ND", self.post("/figures/bag", text="Portraits on foot"))
        self.assertIn("not in the bag", self.get(f"/shoots/{self.number}"))


class Readings(ShootCase):
    def test_a_reading_shifts_the_day_and_the_plans_follow(self) -> None:
        def ev() -> float:
            look = slot_detail(self.day(), 3, "", "")
            assert look
            return look.light.subject

        before = ev()
        page = self.post("/readings", time="15:00", zone="shaded", reading="EV 14")
        self.assertIn("15:00, shaded side EV 14.0: +1.", page)
        place = self.day().shoot.core_place()
        shift = 14 - daylight(place, datetime(2027, 6, 19, 15, 0, tzinfo=ZoneInfo("Europe/Madrid"))).shaded
        self.assertAlmostEqual(ev() - before, shift, places=2)
        page = self.get(f"/shoots/{self.number}?look=3")
        self.assertIn("The reading of 15:00 corrects the forecast by +1.", page)
        self.assertIn("30 min old by then", page)
        self.post("/readings/0/remove")
        self.assertAlmostEqual(ev(), before)

    def test_what_was_read_already_counts_more_than_what_the_day_says(self) -> None:
        # It is twenty to twelve: the sundial was read at half past nine, the orchard is only expected.
        self.post("/readings", time="09:00", zone="shaded", reading="EV 12")
        sundial, orchard = (slot_detail(self.day(), index, "", "") for index in (0, 1))
        assert sundial
        assert orchard
        self.assertEqual((sundial.read_at, orchard.read_at), ("09:30", ""))
        self.assertEqual(sundial.setup.scene.background, 13.5)
        self.assertGreater(orchard.setup.scene.background, 14.7)
        self.assertIn("from your reading at 09:30", self.get(f"/shoots/{self.number}?look=0"))

    def test_settings_that_looked_right_are_a_reading_too(self) -> None:
        # f/16 at 1/125 s and ISO 100: EV100 = log2(256 × 125) = 14.97 (ISO 2720, APEX); dials are exact.
        self.post("/readings", time="11:00", zone="sunlit", reading="1/125 f/16 ISO 100")
        self.assertEqual(self.day().shoot.readings[-1].ev100, 15.0)

    def test_what_cannot_be_read_stays_typed_with_the_reason(self) -> None:
        cases: tuple[tuple[dict[str, Any], str], ...] = (
            ({"time": "late", "zone": "sky", "reading": "12"}, "is not a time of day"),
            ({"time": "12:00", "zone": "sky", "reading": "bright"}, "‘bright’"),
            ({"time": "12:00", "zone": "moon", "reading": "12"}, "choose what you read"),
            ({"time": "12:00", "zone": "sky", "reading": "40"}, "40 is outside"),
        )
        for typed, said in cases:
            page = self.post("/readings", **typed)
            self.assertIn(said, page)
            self.assertIn(f'value="{typed["reading"]}"', page)
            plain = self.client.post(f"/shoots/{self.number}/readings", data=typed)
            self.assertEqual(plain.status_code, 422)
        self.assertEqual(len(self.day().shoot.readings), 0)
        self.post("/readings/9/remove", status=422)


class Looking(ShootCase):
    def test_sun_and_subject_best_time_and_both_ladders(self) -> None:
        page = self.get(f"/shoots/{self.number}?look=1&least=one&rungs=halves")
        look = slot_detail(self.day(), 1, "one", "halves")
        assert look
        sun = sun_at(42.46, 0.71, look.slot.start)
        self.assertIn(f"{sun.height_deg:.0f}° high", page)
        self.assertIn(look.side, page)
        self.assertIn("The sun through the day", page)
        assert look.best
        self.assertIn(f"Works from <b>{look.best.start:%H:%M}</b> to <b>{look.best.end:%H:%M}</b>", page)
        self.assertEqual(len(look.ladder), 13)
        for rung in (*look.ladder, *look.clock):
            self.assertIn(rung.way.settings.shutter.label, page)
        self.assertIn("as planned", page)
        self.assertIn("14:45 shade comes", self.get(f"/shoots/{self.number}?look=3"))

    def test_every_lights_power_is_on_the_ladder(self) -> None:
        look = slot_detail(self.day(), 6, "", "")
        assert look
        self.assertEqual(len(look.way.lighting.firings), 2)
        page = self.get(f"/shoots/{self.number}?look=6")
        for rung in look.ladder:
            for firing in rung.way.lighting.firings:
                self.assertIn(f"{firing.light.role} {firing.power_words}", page)

    def test_a_set_up_moves_to_where_it_holds(self) -> None:
        look = slot_detail(self.day(), 2, "third", "")
        assert look
        assert look.best
        self.assertFalse(look.inside(look.best))
        self.post("/setups/2/best", look=2)
        after = slot_detail(self.day(), 2, "third", "")
        assert after
        assert after.best
        self.assertTrue(after.inside(after.best))
        self.assertEqual(after.slot.start.minute % 5, 0)
        self.post("/setups/99/best", status=422)

    def test_the_bench_takes_the_light_of_the_day(self) -> None:
        setup_id = self.day().placed[1].setup_id
        page = self.get(f"/setups/{setup_id}")
        self.assertIn("Already using the light forecast for 13:10", page)
        self.post("/figures/start-1", text="19:30")
        page = self.get(f"/setups/{setup_id}")
        self.assertIn("Forecast for 19:30: background EV", page)
        slot = self.day().placed[1].slot
        assert slot
        then = planned(slot)
        self.client.post(f"/setups/{setup_id}/days/{self.number}/1", headers=PART)
        opened = setups.open_setup(self.store, setup_id)
        self.assertEqual(opened.plan.chosen.settings if opened.plan.chosen else None, then.settings)
        assert opened.setup.scene.moment
        self.assertEqual(opened.setup.scene.moment.time, slot.start)
        self.assertIn("Already using the light forecast for 19:30", self.get(f"/setups/{setup_id}"))
        self.assertEqual(planned(self.day().placed[1].slot or slot).settings, then.settings)
        self.client.post(f"/setups/{setup_id}/undo", headers=PART)
        self.assertIn("Forecast for 19:30", self.get(f"/setups/{setup_id}"))

    def test_the_bench_offers_the_best_time_and_goes_there(self) -> None:
        setup_id = self.day().placed[2].setup_id
        url = f"/setups/{setup_id}/days/{self.number}/2"
        self.assertIn("ND at sync works with 1/3 stop to spare from", self.get(f"{url}/nd"))
        self.assertIn("Move it there and use that light", self.get(f"{url}/nd"))
        self.client.post(url, data={"method": "nd"}, headers=PART)
        opened = setups.open_setup(self.store, setup_id)
        self.assertTrue(opened.plan.way("nd").feasible)
        self.assertGreaterEqual(opened.plan.way("nd").reserve or 0, 0.33)
        self.assertIn("The whole set-up is inside that time", self.get(f"{url}/nd"))
        self.get(f"{url}/fast", status=404)
        self.get(f"/setups/{setup_id}/days/{self.number}/0/nd", status=404)
        self.assertEqual(self.client.post(f"/setups/{setup_id}/days/{self.number}/0").status_code, 404)


class Formats(ShootCase):
    def test_a_shoot_goes_out_and_comes_in_and_brings_only_what_is_new(self) -> None:
        answer = self.client.get(f"/shoots/{self.number}/shoot.json")
        self.assertIn(
            "wedding-at-the-hilltop-observatory-shoot.json", answer.headers["Content-Disposition"]
        )
        document = json.loads(answer.text)
        self.assertEqual(len(read_shoot(document).slots), 8)
        count = len(results.listed(self.store)[0])
        document["slots"][0]["setup"]["name"] = "Another court"
        self.client.post("/shoots/import", data={"document": json.dumps(document)})
        self.assertEqual(len(results.listed(self.store)[0]), count + 1)
        names = [day.name for day in shoots.listed_shoots(self.store)[0]]
        self.assertEqual(
            names, ["Wedding at the hilltop observatory", "Wedding at the hilltop observatory 2"]
        )
        bad = self.client.post("/shoots/import", data={"document": '{"format": "noggin-kit"}'})
        self.assertEqual(bad.status_code, 422)
        self.assertIn("is not 'noggin-shoot'", unescape(bad.text))
        self.get("/shoots/import")

    def test_an_import_says_what_came_and_what_stood_and_breaks_off_whole(self) -> None:
        document = json.loads(self.client.get(f"/shoots/{self.number}/shoot.json").text)
        document["slots"][0]["setup"]["name"] = "Another court"
        before = self.rows("kept")
        with (
            patch.object(self.store.shoots, "add", side_effect=OSError("the disk is full")),
            self.assertRaises(OSError),
        ):
            shoot_document.import_shoot(self.store, self.wiring.clock, document)
        self.assertEqual(self.rows("kept"), before)
        page = self.client.post("/shoots/import", data={"document": json.dumps(document)}).text
        for said in ("1 was added", "Another court", "7 were there already", "Orchard wall, both of them"):
            self.assertIn(said, words(page))

    def test_the_calendar_has_the_settings_and_the_same_instants(self) -> None:
        read = icalendar.Calendar.from_ical(self.client.get(f"/shoots/{self.number}/calendar.ics").data)
        events = list(read.walk("VEVENT"))
        slots = self.day().slots
        self.assertEqual(len(events), len(slots))
        for event, placed in zip(events, slots, strict=True):
            assert placed.slot
            assert placed.way
            self.assertEqual(event.decoded("dtstart").astimezone(UTC), placed.slot.start.astimezone(UTC))
            self.assertEqual(event.decoded("dtend").astimezone(UTC), placed.slot.end.astimezone(UTC))
            self.assertIn(placed.way.settings.shutter.label, str(event["description"]))
        uids = [str(event["uid"]) for event in events]
        self.post("/figures/start-1", text="18:20")
        again = icalendar.Calendar.from_ical(self.client.get(f"/shoots/{self.number}/calendar.ics").data)
        self.assertEqual(sorted(uids), sorted(str(event["uid"]) for event in again.walk("VEVENT")))

    def test_the_days_table_as_csv(self) -> None:
        rows = list(csv.DictReader(io.StringIO(self.client.get(f"/shoots/{self.number}/light.csv").text)))
        self.assertEqual(rows[0]["time"], "2027-06-19T04:30+02:00")
        noon = next(row for row in rows if row["time"].startswith("2027-06-19T14:00"))
        self.assertAlmostEqual(float(noon["sun height deg"]), 71.0, delta=0.2)
        self.assertEqual(noon["part of day"], "day")
        head = next(name for name in noon if name.startswith("Orchard wall"))
        self.assertGreater(float(noon[head]), 0)
        self.assertEqual(rows[0][head], "")

    def test_the_place_of_a_waypoint(self) -> None:
        answer = self.client.post(
            f"/shoots/{self.number}/place",
            data={"file": (io.BytesIO(GEOJSON.encode()), "gate.geojson")},
            content_type="multipart/form-data",
        )
        self.assertEqual(answer.status_code, 303)
        place = self.day().shoot.place
        self.assertEqual((place.lat, place.lon, place.name), (42.4655, 0.7123, "The old gate"))
        bad = self.client.post(
            f"/shoots/{self.number}/place",
            data={"file": (io.BytesIO(b"no"), "x.gpx")},
            content_type="multipart/form-data",
        )
        self.assertEqual(bad.status_code, 422)
        self.assertIn("neither GPX nor GeoJSON", unescape(bad.text))


class Elsewhere(ShootCase):
    def test_polar_days_clock_changes_and_the_date_line_have_pages(self) -> None:
        for place, zone, day, said in (
            ("69.65, 18.96", "Europe/Oslo", "2027-06-21", "the sun does not set"),
            ("69.65, 18.96", "Europe/Oslo", "2027-12-21", "the sun does not rise"),
            ("89.99, 0", "UTC", "2027-12-21", "the sun does not rise"),
            ("-18.1, 178.4", "Pacific/Fiji", "2027-06-19", "sunrise"),
            ("42.46, 0.71", "Pacific/Auckland", "2027-06-19", "sunrise"),
            ("42.46, 0.71", "Europe/Madrid", "2027-03-28", "sunrise 07:"),
        ):
            data = {"name": "far", "place": place, "tz": zone, "date": day}
            made = self.client.post("/shoots", data=data)
            number = int(made.headers["Location"].rsplit("/", 1)[1])
            setup_id = setups.import_setup(self.store, self.wiring.clock, dict(NOON))
            for start in ("02:30", "12:00"):
                self.client.post(f"/shoots/{number}/setups", data={"setup": setup_id})
                last = len(shoots.open_shoot(self.store, self.wiring.clock, number).shoot.slots) - 1
                self.client.post(f"/shoots/{number}/figures/start-{last}", data={"text": start})
            with self.subTest(place=place, day=day, zone=zone):
                self.assertIn(said, self.get(f"/shoots/{number}"))
                self.assertIn("BEGIN:VEVENT", self.get(f"/shoots/{number}/calendar.ics"))
