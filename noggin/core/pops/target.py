"""What each zone of a picture is meant to be, and what it is judged against by eye."""

from math import log2

from noggin.core.physics import exposure
from noggin.core.planning.verdicts import dark_weight
from noggin.core.pops.frame import Dialled
from noggin.core.setup.scene import ZONES
from noggin.core.setup.setup import SetUp
from noggin.core.units import Stops


def meant_subject(setup: SetUp, ambient: Stops) -> Stops:
    """Where the subject is meant to land, by the school of flash, over daylight of a level."""
    intent = setup.intent
    if intent.school == "match":
        return exposure.mix(ambient, intent.subject_level) or 0.0
    if intent.school == "share" and intent.share is not None:
        return ambient - log2(1 - intent.share)
    return intent.subject_level


def counted(setup: SetUp, background: Stops) -> Stops:
    """By how much a background that is so far over what is meant counts to be off: one that is meant black
    cannot be too dark."""
    return background if background > 0 else background * dark_weight(setup)


def expected(setup: SetUp, dialled: Dialled, unlit: bool) -> dict[str, Stops]:
    """What each zone is judged against by eye: what is meant of background and face, and as planned what
    is meant of nothing: sky and rim, and the face of a frame that is `unlit`."""
    found = {
        zone: dialled.settings.level(level)
        for zone in ZONES
        if (level := getattr(setup.scene, zone)) is not None
    }
    ambient = found["subject"]
    found["background"] = setup.intent.background_level
    return found if unlit else {**found, "subject": meant_subject(setup, ambient)}
