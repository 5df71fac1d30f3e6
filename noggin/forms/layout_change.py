"""A set-up document and its ground plan as one truth: whichever is changed, the other follows."""

from dataclasses import replace
from math import dist

from noggin.core.errors import Refused
from noggin.core.layout.follow import followed
from noggin.core.layout.moves import moved_layout
from noggin.core.layout.standing import layout_of, names_of
from noggin.core.setup.agreement import agrees, lit_at
from noggin.core.setup.layout import Layout
from noggin.core.setup.setup import SetUp
from noggin.documents.layout import LayoutDocument, layout_written
from noggin.documents.problems import BadDocument, refused
from noggin.documents.setup import SetUpDocument, canonical, core_setup, remembered, setup_of, validated
from noggin.documents.written import SetUpWritten, set_up_copy
from noggin.forms.entry import Document


def bare_setup(document: Document) -> SetUp:
    """The set-up of a document without its plan. Raises BadDocument."""
    return setup_of({**document, "scene": {**document["scene"], "plan": None}})


def canonical_with_layout(found: Document) -> SetUpWritten:
    """A changed document checked and written out whole, its plan where its figures say. Raises
    BadDocument."""
    if not found["scene"].get("plan"):
        return canonical(found)
    document = validated(found)
    bare, layout = _apart(document)
    if _knows_everything(document) and agrees(layout, bare.scene, bare.lights, bare.behind_m):
        return remembered(document, replace(bare, scene=replace(bare.scene, layout=layout)))
    # A figure was changed: the plan follows, or what is wrong is told.
    return canonical(with_layout(found, followed(layout, bare)))


def _apart(document: SetUpDocument) -> tuple[SetUp, Layout]:
    """A set-up without its plan, and the plan. Raises BadDocument."""
    scene, layout = document.scene, document.scene.plan
    assert layout is not None  # noqa: S101 - there is one
    bare = core_setup(document.model_copy(update={"scene": scene.model_copy(update={"plan": None})}))
    try:
        return bare, layout.core()
    except Refused as refusal:
        raise BadDocument([refused(refusal, "scene.plan")]) from None


def _knows_everything(document: SetUpDocument) -> bool:
    """Whether a document's plan has a place for each of its lights, and knows people as the scene does."""
    scene, layout = document.scene, document.scene.plan
    assert layout is not None  # noqa: S101 - there is one
    said = [(person.skin, person.wears) for person in scene.people]
    stand = [(person.skin, person.wears) for person in layout.people]
    return len(layout.lights) == len(document.lights) and said == stand[: len(said)]


def layout_in(document: Document) -> Layout:
    """The plan of a document, or the one that its figures give."""
    return layout_of(setup_of(document))


def with_layout(document: Document, layout: Layout) -> SetUpWritten:
    """A copy in which everything stands as in a plan, and every figure says so. Raises Refused."""
    copy = set_up_copy(document)
    layout = _centred(layout)
    # What is written is rounded; figures are worked out from what is written.
    written = layout_written(layout)
    layout = LayoutDocument.model_validate(written).core()
    bare = bare_setup(copy)
    scene = copy["scene"]
    scene["plan"] = written
    scene["subject_distance_m"] = _figure(scene["subject_distance_m"], layout.subject_distance_m())
    lens = layout.camera.at
    several = len(layout.people) > 1
    scene["face_distances_m"] = (
        [round(dist(lens[:2], person.face[:2]), 3) for person in layout.people] if several else []
    )
    scene["people"] = [
        {"skin": person.skin or None, "wears": person.wears or None} for person in layout.people
    ]
    if not any(person.skin or person.wears for person in layout.people):
        scene.pop("people")
    behind = scene["background_distance_m"] - scene["subject_distance_m"]
    if behind < 0:
        raise Refused("scene.background_distance_m", "the camera would stand behind the background")
    for light, name, role in zip(
        copy["lights"], names_of(bare), (one.role for one in bare.lights), strict=True
    ):
        spot = layout.lights[name]
        light["distance_m"] = _figure(
            light["distance_m"], dist(spot.at, lit_at(layout, name, role, behind))
        )
        if role != "background":
            light["angle_deg"] = _figure(light.get("angle_deg", 45.0), layout.angle_deg(name), ANGLE_CLOSE)
            light["face_distances_m"] = (
                [round(dist(spot.at, person.face), 3) for person in layout.people] if several else []
            )
        light.setdefault("stand", {})["height_m"] = round(max(spot.height_m, 0.1), 3)
    return copy


CLOSE, ANGLE_CLOSE = 0.004, 0.3
"""A figure that differs by less from what the plan says stays as it was typed: metres, degrees."""


def _figure(now: float, found: float, close: float = CLOSE) -> float:
    """A figure as the plan has it, or as it was where that is the same."""
    if abs(now - found) <= close:
        return now
    plain = round(found, 0 if close == ANGLE_CLOSE else 2)
    return plain if abs(plain - found) <= close / 2 else round(found, 1 if close == ANGLE_CLOSE else 3)


def _centred(layout: Layout) -> Layout:
    """The plan with its subject at the origin: one person alone is the subject wherever they stand."""
    person = layout.people[0]
    if len(layout.people) > 1 or (person.x_m == 0 and person.y_m == 0):
        return layout
    return moved_layout(layout, -person.x_m, -person.y_m)
