"""The table of methods: what stands in its rows."""

import unittest
from typing import Any

from noggin.core.advice.details import details
from noggin.core.advice.way_table import power_text
from noggin.core.planning.plan import plan
from noggin.documents.setup import setup_of
from tests.support import noon_with


def with_roles(*roles: str, distances: tuple[float, ...] = ()) -> Any:
    """The noon example with a light for each role, at these distances."""
    light = noon_with("name", "lights")["lights"][0]
    lights = [{**light, "role": role, "name": f"{role} {place}"} for place, role in enumerate(roles)]
    for own, metres in zip(lights, distances, strict=False):
        own["distance_m"] = metres
    return plan(setup_of({**noon_with("name", "lights"), "lights": lights}))


class Many(unittest.TestCase):
    def test_one_light_needs_no_name(self) -> None:
        self.assertNotIn("key", power_text(with_roles("key").shown))

    def test_lights_of_one_role_that_are_dialled_alike_are_said_once(self) -> None:
        text = power_text(with_roles("key", *["fill"] * 11).shown)
        self.assertRegex(text, r"^key \S+( [+−]0\.\d)?, 11 fill lights \S+( [+−]0\.\d)?$")

    def test_lights_of_one_role_that_are_dialled_apart_are_numbered(self) -> None:
        text = power_text(with_roles("key", "fill", "rim", "fill", distances=(2.5, 2, 2, 4)).shown)
        self.assertRegex(text, r"^key .+, fill .+, rim .+, fill 2 .+$")

    def test_details_number_them_too(self) -> None:
        found = with_roles("key", "fill", "fill", distances=(2.5, 2, 4))
        said = " ".join(answer for _, answer in details(found.setup, found.shown))
        self.assertIn("fill 2 ", said)
