"""The ± of a reserve, from the ± of what it was computed from."""

from math import hypot

from noggin.core.planning.lighting import Lighting, needed_flash
from noggin.core.setup.setup import SetUp
from noggin.core.units import Stops


def reserve_uncertainty(setup: SetUp, lighting: Lighting) -> Stops | None:
    """± of the key's reserve in stops, two standard deviations; None where it has no reserve.

    Guide number, modifier (where there is one), toll (in high-speed sync) and the reading of the
    subject, by how much the need follows it, added as squares. The reading of the background moves the
    settings and not the reserve.
    """
    key = lighting.key
    if key.reserve is None:
        return None
    known = key.light.uncertainty
    parts = [known.gn, _by_reading(setup, lighting.levels.subject_ambient)]
    if key.light.loss:
        parts.append(known.loss)
    if key.hss:
        parts.append(known.toll)
    return hypot(*parts)


def _by_reading(setup: SetUp, ambient: Stops) -> Stops:
    """By how much the needed flash moves with the reading of the subject: as daylight nears the level, by
    ever more, but never by more than all that daylight gives."""
    moves = abs(setup.scene.subject_uncertainty * _follows(setup, ambient))
    needed = needed_flash(setup, ambient)
    if not setup.intent.daylight_counts or needed is None:
        return moves
    return min(moves, setup.intent.subject_level - needed)


def _follows(setup: SetUp, ambient: Stops) -> float:
    """Stops by which the needed flash moves for a stop of daylight on the subject."""
    school = setup.intent.school
    if school == "match":
        return 0.0
    if school == "share":
        return 1.0
    return -1 / (2 ** (setup.intent.subject_level - ambient) - 1)
