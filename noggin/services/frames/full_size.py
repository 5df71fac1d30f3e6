"""A frame at 1:1, from its file, which is looked at and not kept."""

from dataclasses import dataclass

from noggin.documents.log import read_entry
from noggin.photos.full_size import parts_at_full_size
from noggin.services.frames.frame_import import check_same_file
from noggin.store.store import Store

MIDDLE = "middle"
"""The part that every frame has."""


@dataclass(frozen=True)
class FullSizePart:
    """A part of a frame at 1:1: the zone that it shows, or its middle, as JPEG."""

    zone: str
    jpeg: bytes


def at_full_size(store: Store, frame_id: int, raw: bytes) -> tuple[FullSizePart, ...]:
    """The parts of a frame where tones were read, the face first, and its middle; `raw` must be the very
    file of it. Raises NotKept, Refused, Unreadable."""
    entry = read_entry(store.frames.get(frame_id).document)
    check_same_file(entry, raw)
    middles = {zone: (box[0] + box[2] / 2, box[1] + box[3] / 2) for zone, box in entry.patches.items()}
    ordered = {zone: middles[zone] for zone in ("subject", "background") if zone in middles}
    found = parts_at_full_size(raw, ordered | {MIDDLE: (0.5, 0.5)})
    # In a small file every part is the whole of it.
    once = {jpeg: zone for zone, jpeg in reversed(found.items())}
    return tuple(FullSizePart(zone, jpeg) for jpeg, zone in reversed(once.items()))
