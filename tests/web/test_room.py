"""How much a request may bring, over every route that takes one."""

import io
from typing import Any

from noggin.web.shared.room import DOCUMENT, ROOM
from tests.support import AppCase

NUMBERS: dict[str, Any] = {
    "gear_id": 1,
    "frame_id": 1,
    "setup_id": 1,
    "shoot_id": 1,
    "bag_id": 1,
    "index": 0,
    "light": 0,
}


class Room(AppCase):
    database = "demo"

    def setUp(self) -> None:
        super().setUp()
        # As it is served: what guards a form reads it before the page does.
        self.app.config["WTF_CSRF_ENABLED"] = True

    def sent(self, endpoint: str, size: int) -> int:
        """The status of a file of so many bytes, sent to a route."""
        (rule,) = [
            rule
            for rule in self.app.url_map.iter_rules()
            if rule.endpoint == endpoint and "POST" in (rule.methods or ())
        ]
        with self.app.test_request_context():
            address = self.app.url_for(endpoint, **{name: NUMBERS[name] for name in rule.arguments})
        file = (io.BytesIO(b"x" * size), "file.bin")
        return self.client.post(address, data={"file": file, "frame": file, "frames": file}).status_code

    def test_files_have_room_where_they_are_meant(self) -> None:
        for endpoint in ROOM:
            with self.subTest(endpoint=endpoint):
                self.assertEqual(self.sent(endpoint, 8 * DOCUMENT), 400)  # by the guard, not by its size

    def test_elsewhere_a_documents_size_is_the_most(self) -> None:
        for endpoint in ("setups.bring_in", "kit.bring_in", "shoots.bring_in"):
            with self.subTest(endpoint=endpoint):
                self.assertEqual(self.sent(endpoint, DOCUMENT), 413)

    def test_every_row_is_a_route(self) -> None:
        known = {rule.endpoint for rule in self.app.url_map.iter_rules()}
        self.assertEqual(set(ROOM) - known, set())
