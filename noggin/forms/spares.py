"""What is owned beside what a set-up uses, for remedies to name: lights, modifiers, filters, small
pieces."""

import json
from collections.abc import Iterator, Mapping
from functools import lru_cache
from typing import Any

from noggin.core.advice.remedy_case import SpareFilter, SpareLight, SpareModifier, Spares
from noggin.core.setup.light import Light
from noggin.core.setup.setup import SetUp
from noggin.documents import gear as kit
from noggin.documents.lights import LightDocument
from noggin.documents.problems import BadDocument
from noggin.forms.choices import Choices
from noggin.forms.entry import Document

PLACED = (
    "role",
    "distance_m",
    "relative_level",
    "angle_deg",
    "face_distances_m",
    "group",
    "channel",
    "gel",
)
"""Fields of a light that stay where another takes its place."""


def spares_of(document: Document, setup: SetUp, choices: Choices) -> Spares:
    """What the bag or the kit holds beside what the set-up uses."""
    where = "in your bag" if document.get("bag") else "in your kit"
    if not choices.along.gear:
        return Spares()
    return Spares(
        tuple(_lights(document, setup, choices, where)),
        tuple(_modifiers(document, setup, choices, where)),
        tuple(_filters(document, choices, where)),
        {item.type: (item.name, where) for item in choices.along.all(kit.AccessoryItem)},
    )


def _lights(document: Document, setup: SetUp, choices: Choices, where: str) -> Iterator[SpareLight]:
    """Lights of which one is left, through the modifier that the key has."""
    key = document["lights"][setup.lights.index(setup.key)]
    used = [light["name"] for light in document["lights"]]
    for owned in choices.along.all(kit.LightItem):
        left = owned.count - sum(name.startswith(owned.name) for name in used)
        if left <= 0:
            continue
        for reflector in owned.reflectors:
            choice = choices.lights.get(f"kit:{owned.name}:{reflector.name}")
            if choice is None:
                continue
            change = choice.part(document, key)
            light = _light({**key, **change})
            if light is not None:
                yield SpareLight(f"the {choice.label}", where, light, _without_nothing(change), left)


def _modifiers(document: Document, setup: SetUp, choices: Choices, where: str) -> Iterator[SpareModifier]:
    for index, light in enumerate(document["lights"]):
        for choice_key, choice in choices.modifiers.items():
            if not choice_key.startswith("kit:"):
                continue
            change = choice.part(document, light)
            made = _light({**light, **change})
            if made is not None and made.reach != setup.lights[index].reach:
                yield SpareModifier(f"the {choice.label}", where, index, made, _without_nothing(change))


def _filters(document: Document, choices: Choices, where: str) -> Iterator[SpareFilter]:
    own = {item["name"] for item in document["filters"]}
    for part in choices.along.filters_for(document["lens"]["name"]):
        if part["name"] not in own:
            item = next(item for item in choices.along.all(kit.FilterItem) if item.name == part["name"])
            yield SpareFilter(where, item.core())


def _light(found: Mapping[str, Any]) -> Light | None:
    """A light of a document; None where its figures do not go together."""
    return _light_in(json.dumps(found))


@lru_cache(maxsize=1024)
def _light_in(text: str) -> Light | None:
    """The same from its text: while a set-up is worked on, the same lights are asked for time and again."""
    found: Mapping[str, Any] = json.loads(text)
    wanted = {name: value for name, value in found.items() if value is not None or name in PLACED}
    wanted["uncertainty"] = {
        name: value for name, value in wanted.get("uncertainty", {}).items() if value is not None
    }
    try:
        return LightDocument.model_validate(wanted).core()
    except (ValueError, BadDocument):
        return None


def _without_nothing(change: Mapping[str, Any]) -> Mapping[str, Any]:
    """A change without fields that may not be empty; its ± by name."""
    found = {name: value for name, value in change.items() if name not in ("uncertainty", "stand")}
    return {name: value for name, value in found.items() if value is not None or name == "hss_toll"}
