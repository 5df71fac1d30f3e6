"""What the pages say of verdicts, rules, cautions, bags and powers."""

import re
from html import unescape

from noggin.documents.setup import canonical
from noggin.forms.change import changed
from noggin.services.day import shoots
from noggin.services.gear import bags
from noggin.services.gear.bag_load import bag_load
from noggin.services.keeping import kept
from noggin.services.setups import setups
from tests.support import NOON, AppCase


def words(page: str) -> str:
    """A page as it is read: no tags, single spaces."""
    return " ".join(unescape(re.sub(r"<[^>]+>", " ", page)).split())


class Bench(AppCase):
    def page(self, **changes: object) -> str:
        document = changed(
            canonical(NOON), {path.replace("__", "."): value for path, value in changes.items()}
        )
        self.setup_id = setups.import_setup(self.store, self.wiring.clock, canonical(document))
        return self.client.get(f"/setups/{self.setup_id}").text

    def test_every_way_has_its_verdict_as_word_and_form_and_the_rule_is_said(self) -> None:
        page = self.page()
        found = re.findall(r'class="verdict verdict-([a-z-]+)"', page)
        self.assertEqual(found, ["holds"] * 4 + ["short"])
        self.assertEqual(page.count('class="verdict-sign"'), 5)
        self.assertIn("Decided by your preference, reach first, before Mixed.", page)
        self.assertIn("flash on the background", page)

    def test_just_there_says_where_the_picture_lands(self) -> None:
        page = words(self.page(**{"lights[0].gn_m": 37.0}))
        self.assertIn("only just works: faces at −0.1", page)

    def test_where_nothing_works_the_nearest_and_what_would_mend_it(self) -> None:
        page = words(self.page(**{"lights[0].gn_m": 20.0, "filters": []}))
        self.assertRegex(page, r"No method quite makes this picture\. Closest: .* What would mend it: \w+")
        listed = words(self.client.get("/setups").text)
        self.assertRegex(listed, r"no method works yet closest: .* Mends it: \w+")

    def test_a_wish_in_words_changes_what_comes_first(self) -> None:
        self.page(filters=[])
        url = f"/setups/{self.setup_id}/figures/aperture_wish"
        self.assertEqual(setups.open_setup(self.store, self.setup_id).plan.ways[0].key, "hss")
        page = self.client.post(url, data={"text": "any"}, follow_redirects=True).text
        self.assertIn("anything that keeps the place readable", page)
        opened = setups.open_setup(self.store, self.setup_id)
        self.assertTrue(opened.setup.intent.aperture_free)
        self.assertEqual(opened.plan.ways[0].key, "stop_down")

    def test_by_share_against_the_light_offers_right_in_total_with_one_tap(self) -> None:
        page = self.page(intent__flash={"school": "share", "share": 0.2})
        self.assertIn("Right in total instead", page)
        url = f"/setups/{self.setup_id}/figures/school"
        self.client.post(url, data={"text": "total"})
        self.assertEqual(setups.open_setup(self.store, self.setup_id).setup.intent.school, "total")

    def test_which_aperture_a_power_gives(self) -> None:
        self.page(filters=[], **{"lights[0].energy_ws": 600.0})
        url = f"/setups/{self.setup_id}/aperture"
        # GN 60 at 2.5 m: f/24 at full power, f/18.6 at 60 %, f/12 at a quarter.
        for power in ("60%", "360 Ws"):
            page = words(self.client.get(url, query_string={"power": power}).text)
            self.assertIn(f"f/18.6 is what a flash meter at the face shows at {power}, ISO 100", page)
        page = words(self.client.get(url, query_string={"power": "1/4"}).text)
        self.assertIn("Dial f/13", page)  # the nearest third
        self.assertIn("too bright", page)
        part = self.client.get(url, query_string={"power": "a lot"}, headers={"HX-Request": "true"}).text
        self.assertIn("‘a lot’ is not a power", part)
        self.assertIn("is outside", self.client.get(url, query_string={"power": "900%"}).text)

    def test_three_cautions_first_and_the_rest_folded(self) -> None:
        page = self.page(scene__ev100__sky=19.5, scene__ev100__rim=16.5)
        section = page[page.index("watch-out") :]
        section = section[: section.index("</section>")]
        first, rest = section.split("<details>")
        self.assertEqual(first.count("<li>"), 3)
        self.assertGreater(rest.count("<li>"), 1)
        self.assertIn(f"{rest.count('<li>')} more", rest)


class OneDay(AppCase):
    database = "demo"

    def test_a_caution_read_once_is_quiet_for_the_day_and_can_be_said_again(self) -> None:
        number = shoots.listed_shoots(self.store)[0][0].id
        url = f"/shoots/{number}"
        page = self.client.get(url).text
        key = re.findall(r"/cautions/(\w+)", page)[0]
        button = "quiet for this day"
        before = page.count(button)
        page = self.client.post(f"{url}/cautions/{key}", data={"read": "1"}, follow_redirects=True).text
        self.assertEqual(page.count(button), before - 1)
        self.assertIn("1 read before, quiet today", page)
        other = shoots.open_shoot(self.store, self.wiring.clock, number).slots[1].index
        self.assertNotRegex(
            self.client.get(f"{url}?look={other}").text.split("quiet-cautions")[0], f"cautions/{key}"
        )
        page = self.client.post(f"{url}/cautions/{key}", data={"read": "0"}, follow_redirects=True).text
        self.assertEqual(page.count(button), before)
        self.assertEqual(self.client.post(f"{url}/cautions/nonsense").status_code, 422)

    def test_a_bag_weighs_and_says_what_its_day_lacks(self) -> None:
        bag = next(one for one in bags.all_bags(self.store) if one.name == "Observatory wedding")
        load = bag_load(self.store, bag)
        by_hand = sum(
            item.document["weight_kg"] * item.document["count"] for item in bags.packed(self.store, bag)
        )
        self.assertAlmostEqual(load.weight_kg, by_hand)
        self.assertEqual(load.unweighed, ())
        self.assertNotIn("Speedlight", " ".join(load.missing))
        speedlight = next(item.id for item in bags.packed(self.store, bag) if item.name == "Speedlight")
        bag = bags.pack(self.store, self.wiring.clock, bag.id, [speedlight], into=False)
        load = bag_load(self.store, bag)
        self.assertTrue(any(one.startswith("Speedlight, for ") for one in load.missing), load.missing)
        page = words(self.client.get(f"/bags/{bag.id}").text)
        self.assertIn("Missing for the day", page)
        self.assertIn(f"{load.weight_kg:.1f} kg", page)

    def test_a_tripod_that_a_set_up_stands_on_is_missed(self) -> None:
        day = shoots.listed_shoots(self.store)[0][0]
        number = day.shoot.slots[0].setup
        kept.enter(self.store, self.wiring.clock, setups.SETUPS, number, "support", "tripod")
        bag = next(one for one in bags.all_bags(self.store) if one.name == "Observatory wedding")
        self.assertIn(
            f"a tripod, for {self.store.setups.get(number).document['name']}",
            " ".join(bag_load(self.store, bag).missing),
        )
