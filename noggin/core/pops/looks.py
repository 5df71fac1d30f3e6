"""What each frame of a take is meant to be: one take may hold several looks, and a zone may be right as it
came out."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import replace

from noggin.core.errors import Refused
from noggin.core.pops.estimate import Estimate
from noggin.core.pops.faults import Told, diagnose_last
from noggin.core.pops.frame import WANTED_ZONES, Frame, Meant, meant_of
from noggin.core.setup.setup import SetUp
from noggin.core.units import Stops


def as_it_came(meant: Meant, came: Mapping[str, Stops]) -> Meant:
    """What is meant from now on, where zones are right as they came out (levels by zone)."""
    return replace(
        meant,
        background_level=came.get("background", meant.background_level),
        subject_level=came.get("subject", meant.subject_level),
        as_it_is=meant.as_it_is | frozenset(came),
    )


def came_out(estimate: Estimate, wanted: Iterable[str]) -> dict[str, Stops]:
    """Where zones came out in the last frame. Raises Refused for a zone that is not meant."""
    zones = sorted(wanted)
    for zone in zones:
        if zone not in WANTED_ZONES:
            raise Refused("wanted", f"{zone} is not one of {', '.join(WANTED_ZONES)}")
    return {zone: estimate.zones[zone][0] for zone in zones}


def with_meant(
    setup: SetUp, looks: Sequence[Meant], frames: Sequence[tuple[Frame, str]]
) -> tuple[tuple[Frame, ...], Meant]:
    """Frames, each given with the name of its look ("" for what the set-up means), with what each is
    meant to be; and what the next one is, in the look of the last. Raises Refused for an unknown look."""
    meant = {"": meant_of(setup), **{look.look: look for look in looks}}
    found: list[Frame] = []
    before = Told()
    learns = any(frame.wanted for frame, _ in frames)
    for index, (frame, look) in enumerate(frames):
        if look not in meant:
            raise Refused(f"frames[{index}].look", f"there is no look ‘{look}’")
        found.append(replace(frame, meant=meant[look]))
        if learns:
            said = diagnose_last(setup, tuple(found), before)
            before = before.after(setup, tuple(found), said.story)
            if frame.wanted:
                meant[look] = as_it_came(meant[look], came_out(said.estimate, frame.wanted))
    return tuple(found), meant[frames[-1][1]] if frames else meant[""]
