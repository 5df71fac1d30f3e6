"""Reading is free: it takes no lock, waits for nobody, and a list costs the same however much is kept."""

import json
import sqlite3
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import asdict
from unittest.mock import patch

from sqlalchemy import event

from noggin.core.planning import plan as planning
from noggin.core.planning.plan import RULES_VERSION
from noggin.demo import demo_documents
from noggin.documents.setup import canonical, setup_of_text
from noggin.services.keeping import results
from noggin.services.keeping.results import PAGE_SIZE, plan_of_text, result_of
from noggin.services.setups import setups
from tests.support import NOON, NOW, AppCase
from tests.web.test_pages import PART, words


class Locks(AppCase):
    database = "demo"

    def test_pages_open_while_another_writes(self) -> None:
        writer = sqlite3.connect(self.path, isolation_level=None)
        self.addCleanup(writer.close)
        writer.execute("BEGIN IMMEDIATE")
        writer.execute("UPDATE kept SET name = 'half written' WHERE id = 1")
        # Who wants the lock waits in vain, for it is not let go, and is refused: none of these does.
        for url in ("/setups", "/setups/1", "/kit", "/shoots", "/bags", "/reach?setup=1"):
            with self.subTest(url=url):
                answer = self.client.get(url)
                self.assertEqual(answer.status_code, 200)
                self.assertNotIn("half written", answer.text)
        writer.execute("ROLLBACK")

    def test_a_writer_waits_and_loses_nothing(self) -> None:
        writer = sqlite3.connect(self.path, isolation_level=None, check_same_thread=False)
        self.addCleanup(writer.close)
        writer.execute("BEGIN IMMEDIATE")
        let_go = threading.Timer(0.3, writer.execute, ("COMMIT",))
        let_go.start()
        self.addCleanup(let_go.join)
        answer = self.client.post("/setups/1/figures/aperture", data={"text": "4"}, headers=PART)
        self.assertEqual(answer.status_code, 200)
        self.assertEqual(setups.open_setup(self.store, 1).setup.intent.aperture, 4)

    def test_a_change_is_not_begun_inside_a_reading(self) -> None:
        with self.store.read_transaction(), self.assertRaises(RuntimeError):
            self.store.setups.add(NOON, NOW)

    @contextmanager
    def counted(self) -> Iterator[list[str]]:
        """The transactions that are begun inside."""
        begun: list[str] = []

        def note(_: object, __: object, statement: str, *___: object) -> None:
            if statement.startswith("BEGIN"):
                begun.append(statement)

        event.listen(self.store._engine, "before_cursor_execute", note)
        try:
            yield begun
        finally:
            event.remove(self.store._engine, "before_cursor_execute", note)

    def test_one_figure_takes_two_transactions_at_most_and_a_page_takes_one(self) -> None:
        for url, data in (
            ("/setups/1/figures/aperture", {"text": "4"}),
            ("/setups/1/figures/aperture", {"by": "1"}),
            ("/setups/1/figures/aperture", {"text": "wide open"}),
            ("/shoots/44/figures/start-1", {"text": "16:40"}),
            ("/kit/9/figures/notes", {"text": "scratched"}),
        ):
            with self.subTest(url=url, data=data), self.counted() as begun:
                answer = self.client.post(url, data=data, headers=PART)
                self.assertEqual(answer.status_code, 200)
                self.assertLessEqual(begun, ["BEGIN IMMEDIATE", "BEGIN"])
                self.assertEqual(begun.count("BEGIN IMMEDIATE"), 1)
                self.assertLessEqual(len(begun), 2)
        for url in ("/setups", "/setups/1", "/shoots/44", "/kit", "/reach?setup=1"):
            with self.subTest(url=url), self.counted() as begun:
                self.client.get(url)
                self.assertEqual(begun, ["BEGIN"])


class Lists(AppCase):
    def fill(self, count: int) -> None:
        with self.store.write_transaction():
            for number in range(count):
                self.store.setups.add(canonical({**NOON, "name": f"Number {number:03} 50% _"}), NOW)
        results.bring_up_to_date(self.store)

    def test_fifty_a_page_with_more_and_search_by_name(self) -> None:
        self.fill(PAGE_SIZE + 7)
        page = words(self.client.get("/setups").text)
        self.assertIn("Number 049", page)
        self.assertNotIn("Number 050", page)
        self.assertIn("Show more", page)
        more = words(self.client.get(f"/setups?from={PAGE_SIZE}", headers=PART).text)
        self.assertNotIn("Number 049", more)
        self.assertIn("Number 056", more)
        self.assertNotIn("Show more", more)
        found = words(self.client.get("/setups?find=BER 05").text)
        self.assertEqual(found.count("Number 05"), 7)
        self.assertIn("Number 056 50% _", words(self.client.get("/setups?find=056 50% _").text))
        # What is typed is looked for as it is: % and _ stand for nothing else.
        self.assertNotIn("Number 0", words(self.client.get("/setups?find=0%25_").text))
        for start in ("-3", "9" * 30, "x"):
            self.assertEqual(self.client.get(f"/setups?from={start}").status_code, 200)

    def test_the_list_plans_nothing_and_says_what_planning_gave(self) -> None:
        for document in demo_documents():
            self.store.setups.add(document, NOW)
        results.bring_up_to_date(self.store)
        plan_of_text.cache_clear()
        with patch.object(results, "plan", side_effect=AssertionError("the list planned")):
            rows, _ = results.listed(self.store)
        self.assertEqual(len(rows), len(demo_documents()))
        for row in rows:
            kept = self.store.setups.get(row.id)
            self.assertEqual(row.result, result_of(planning.plan(setup_of_text(kept.text))))

    def test_what_came_from_other_rules_or_an_older_revision_is_made_anew(self) -> None:
        kept = self.store.setups.add(canonical(NOON), NOW)
        self.assertEqual(results.bring_up_to_date(self.store), 1)
        self.assertEqual(results.bring_up_to_date(self.store), 0)
        wrong = asdict(result_of(plan_of_text(kept.text))) | {"label": "an old answer"}
        self.store.results.put(kept, RULES_VERSION - 1, wrong)
        self.assertEqual(results.bring_up_to_date(self.store), 1)
        self.store.results.put(kept, RULES_VERSION, wrong)
        self.assertEqual(results.listed(self.store)[0][0].result.label, "an old answer")
        changed = json.loads(json.dumps(kept.document)) | {"name": "Changed past the services"}
        self.store.setups.change(kept.id, lambda _: (changed, {}), NOW)
        self.assertEqual(results.listed(self.store)[0][0].result.label, "ND at sync")

    def test_a_set_up_that_another_program_removes_meanwhile_is_passed_over(self) -> None:
        self.store.setups.add(canonical(NOON), NOW)
        stale, asked = self.store.results.stale, list[object]()

        def removed_after_the_first_look(*given: object) -> object:
            found = stale(*given)  # type: ignore[arg-type]
            if not asked:
                self.store.clear()
            asked.append(given)
            return found

        with patch.object(self.store.results, "stale", removed_after_the_first_look):
            self.assertEqual(results.bring_up_to_date(self.store), 0)

    def test_every_change_keeps_its_result(self) -> None:
        setup_id = setups.new_setup(self.store, lambda: NOW)
        for url, data in (
            ("figures/aperture", {"text": "16"}),
            ("figures/aperture", {"by": "-1"}),
            ("undo", {}),
            ("redo", {}),
            ("pin", {"pinned": "1"}),
            ("lights", {"role": "rim"}),
            ("copy", {}),
        ):
            with self.subTest(url=url):
                self.client.post(f"/setups/{setup_id}/{url}", data=data, headers=PART)
                self.assertEqual(results.bring_up_to_date(self.store), 0)
