"""The figures of the Bench that are chosen from what is offered: bag, camera, trigger, lens, filters, and
each light with its modifier."""

from collections.abc import Callable, Iterator, Mapping
from dataclasses import replace
from typing import Any

from noggin.core.physics import optics
from noggin.documents import gear as kit
from noggin.documents.written import SetUpWritten
from noggin.forms.choices import ChoiceMap, Choices, chosen
from noggin.forms.entry import Document, Entry

CHOICE_LABELS = {
    "bag": "Bag",
    "camera": "Camera",
    "trigger": "Trigger",
    "lens": "Lens",
    "filters_from": "Filters",
    "class": "Kind",
    "modifier": "Modifier",
}
"""What these figures are called; those of a light without its number."""

Put = Callable[[SetUpWritten, Any], None]


def picture_choices(offered: Choices) -> Iterator[Entry]:
    """Those of the picture."""
    if offered.bags:
        bags = {"": "the whole kit", **{name: name for name in offered.bags}}
        yield _entry("bag", ("bag",), bags, lambda document: document.get("bag", ""), _put_bag)
    yield _entry(
        "camera",
        ("camera",),
        _labels(offered.cameras),
        lambda document: chosen(offered.cameras, document["camera"], document, {}),
        _refitting(
            offered, lambda document, key: _update(document["camera"], offered.cameras, key, document)
        ),
    )
    if offered.triggers:
        triggers = {"": "not given", **_labels(offered.triggers)}
        yield _entry(
            "trigger",
            ("camera", "trigger"),
            triggers,
            lambda document: f"kit:{name}" if (name := document["camera"].get("trigger")) else "",
            _refitting(offered, _put_trigger),
        )
    yield _entry(
        "lens",
        ("lens",),
        _labels(offered.lenses),
        lambda document: chosen(offered.lenses, document["lens"], document, {}),
        lambda document, key: _put_lens(offered, document, key),
    )
    if offered.along.all(kit.FilterItem):
        yield _entry(
            "filters_from",
            ("filters",),
            _filter_sources(offered),
            lambda document: _filters_from(offered, document),
            lambda document, key: _put_filters(offered, document, key) if key else None,
        )


FILTERS_FROM = {
    "kit": "the bag: ND",
    "polariser": "the bag: ND, polariser",
    "": "typed below",
}
"""Where the filters of a set-up come from."""


def _filter_sources(offered: Choices) -> Mapping[str, str]:
    polarisers = [item for item in offered.along.all(kit.FilterItem) if item.type == "polariser"]
    return {key: words for key, words in FILTERS_FROM.items() if polarisers or key != "polariser"}


def light_choices(offered: Choices, index: int) -> Iterator[Entry]:
    """Those of light number `at`."""

    def light(document: Document) -> Any:
        return document["lights"][index]

    def put_light(document: SetUpWritten, key: str) -> None:
        """Another light in the same place, through the same modifier."""
        through = chosen(offered.modifiers, light(document), document, light(document))
        _update(light(document), offered.lights, key, document)
        if through:
            _put_modifier(offered, document, index, through)

    yield _entry(
        f"class-{index}",
        ("lights", index),
        _labels(offered.lights),
        lambda document: chosen(offered.lights, light(document), document, light(document)),
        put_light,
        CHOICE_LABELS["class"],
    )
    yield _entry(
        f"modifier-{index}",
        ("lights", index),
        _labels(offered.modifiers),
        lambda document: chosen(offered.modifiers, light(document), document, light(document)),
        lambda document, key: _put_modifier(offered, document, index, key),
        CHOICE_LABELS["modifier"],
    )


def _entry(
    key: str,
    path: tuple[str | int, ...],
    choices: Mapping[str, str],
    gives: Callable[[Document], Any],
    puts: Put,
    label: str = "",
) -> Entry:
    return Entry(key, label or CHOICE_LABELS[key], path, str, str, choices=choices, gives=gives, puts=puts)


def _labels(choices: ChoiceMap) -> Mapping[str, str]:
    return {key: choice.label for key, choice in choices.items()}


def _update(part: Any, choices: ChoiceMap, key: str, document: Document) -> None:
    """A choice in the place of what was there. The ± it brings counts, and no more of the old."""
    made = choices[key].part(document, part)
    known = {**part.get("uncertainty", {}), **made.pop("uncertainty", {})}
    stand = {**part.get("stand", {}), **made.pop("stand", {})}
    part.update(made)
    if "gn_m" in part:
        part["uncertainty"] = {
            name: uncertainty for name, uncertainty in known.items() if uncertainty is not None
        }
        if stand:
            part["stand"] = stand
        if "gn_m" in made:
            part.pop("readings", None)
    for name in ("battery", "pulse", "curtain_s", "iso_base"):
        if name in part and part[name] is None:
            del part[name]


def _put_modifier(offered: Choices, document: SetUpWritten, index: int, key: str) -> None:
    light = document["lights"][index]
    light.get("stand", {}).pop("sail_m2", None)
    _update(light, offered.modifiers, key, document)


def _put_bag(document: SetUpWritten, name: str) -> None:
    document["bag"] = name


def with_tolls(offered: Choices, sync: Entry) -> Entry:
    """The sync speed as it is typed: tolls of the kit and of classes follow it."""

    def put(document: SetUpWritten, time: str) -> None:
        document["camera"]["sync_s"] = time

    return replace(sync, puts=_refitting(offered, put))


def _put_trigger(document: SetUpWritten, key: str) -> None:
    document["camera"]["trigger"] = key.removeprefix("kit:")


def _refitting(offered: Choices, puts: Put) -> Put:
    """A change of body or trigger: what they can do together follows, and with it the toll of every light
    that still had the kit's own."""

    def put(document: SetUpWritten, key: Any) -> None:
        own = [_own_toll(offered, document, light) for light in document["lights"]]
        puts(document, key)
        together = offered.along.hss(document)
        if together is not None:
            document["camera"]["hss"] = together
        for light, toll in zip(document["lights"], own, strict=True):
            if toll:
                light["hss_toll"] = toll(document)

    return put


def _own_toll(
    offered: Choices, document: Document, light: Document
) -> Callable[[Document], float | None] | None:
    """What a light's toll is on a body, where it still has that of the kit or of its class."""
    head = offered.along.named(kit.LightItem, light["name"])
    if head is not None:
        return (
            (lambda then: offered.along.toll(then, head))
            if light["hss_toll"] == offered.along.toll(document, head)
            else None
        )
    key = chosen(offered.lights, light, document, light)
    return (lambda then: offered.lights[key].part(then, light)["hss_toll"]) if key else None


def _filters_from(offered: Choices, document: Document) -> str:
    """The key of FILTERS_FROM that a set-up's filters come from."""
    lens, own = document["lens"]["name"], _strengths(document["filters"])
    if own == _strengths(offered.along.filters_for(lens)):
        return "kit"
    with_polariser = offered.along.filters_for(lens, polarisers=True)
    return "polariser" if own == _strengths(with_polariser) else ""


def _strengths(filters: Any) -> list[tuple[str, Any]]:
    return [
        (item["name"], list(item["stops"]) if isinstance(item["stops"], list | tuple) else item["stops"])
        for item in filters
    ]


def _put_filters(offered: Choices, document: SetUpWritten, key: str) -> None:
    lens, rings = document["lens"]["name"], offered.along.rings()
    document["filters"] = offered.along.filters_for(lens, polarisers=key == "polariser")
    document.pop("rings", None)
    if rings:
        document["rings"] = rings


def _put_lens(offered: Choices, document: SetUpWritten, key: str) -> None:
    """Another lens; the framing stays, the aperture where the lens reaches it, and filters from the bag are
    those that fit it."""
    from_bag = _filters_from(offered, document) if offered.along.all(kit.FilterItem) else ""
    height = frame_height(document)
    lens, intent = offered.lenses[key].part(document, {}), document["intent"]
    document["lens"] = lens
    intent["aperture"] = min(max(intent["aperture"], lens["widest"]), lens["smallest"])
    frame_to(document, height)
    if from_bag:
        _put_filters(offered, document, from_bag)


def frame_height(document: Document) -> float:
    """Height of the frame at the subject in metres."""
    side = document["camera"]["sensor_mm"][1]
    return optics.frame_side(document["scene"]["subject_distance_m"], document["lens"]["focal_mm"], side)


def frame_to(document: SetUpWritten, height: float) -> None:
    """Step back or forward until the frame is so high; the background keeps its place behind."""
    scene = document["scene"]
    before = scene["subject_distance_m"]
    side = document["camera"]["sensor_mm"][1]
    to = max(0.3, round(optics.distance_of_frame(height, document["lens"]["focal_mm"], side), 2))
    put_subject(document, to)
    scene["background_distance_m"] = max(to, round(scene["background_distance_m"] + to - before, 2))


def put_subject(document: SetUpWritten, distance_m: float) -> None:
    """The subject elsewhere, and its group with it."""
    scene = document["scene"]
    moved = distance_m - scene["subject_distance_m"]
    scene["subject_distance_m"] = distance_m
    if scene.get("face_distances_m"):
        scene["face_distances_m"] = [max(0.1, round(face + moved, 4)) for face in scene["face_distances_m"]]
