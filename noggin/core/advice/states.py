"""What stands in each group of a set-up's figures, in a line: what a folded group says."""

from collections.abc import Mapping

from noggin.core.setup.intent import SCHOOLS
from noggin.core.setup.light import ROLES
from noggin.core.setup.setup import SetUp
from noggin.core.wording import listed, plain, said_distance, shutter_time, signed


def states(setup: SetUp) -> Mapping[str, str]:
    """A line for each of composition, daylight, intention, filters and lights."""
    return {
        "composition": _composition(setup),
        "daylight": _daylight(setup),
        "intention": _intention(setup),
        "filters": _filters(setup),
        "lights": _lights(setup),
    }


def _composition(setup: SetUp) -> str:
    scene = setup.scene
    parts = [
        f"{setup.lens.focal_mm:g} mm",
        f"faces at {said_distance(scene.subject_distance_m)}",
        f"background at {said_distance(scene.background_distance_m)}",
    ]
    return ", ".join(parts)


def _daylight(setup: SetUp) -> str:
    scene = setup.scene
    return f"background EV {plain(scene.background)}, faces EV {plain(scene.subject)}"


def _intention(setup: SetUp) -> str:
    intent = setup.intent
    parts = [
        f"background {signed(intent.background_level)}",
        f"faces {signed(intent.subject_level)}",
        f"f/{setup.wanted_aperture.label}",
    ]
    if intent.school != "total":
        parts.append(SCHOOLS[intent.school])
    return ", ".join(parts)


def _filters(setup: SetUp) -> str:
    filters = listed([filter_.name for filter_ in setup.filters]) if setup.filters else "no filters"
    return f"{filters}; sync {shutter_time(setup.camera.sync_s)} s"


def _lights(setup: SetUp) -> str:
    said = [
        f"{light.name or ROLES[light.role].label.lower()} at {said_distance(light.distance_m)}"
        for light in setup.lights
    ]
    return ", ".join(said)
