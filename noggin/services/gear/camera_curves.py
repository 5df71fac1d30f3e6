"""A body's own JPEG curve: fitted from frames of a card that fills the middle, and kept with the body."""

from collections.abc import Sequence
from math import log2

from noggin.core.errors import Refused
from noggin.core.pops.tone_curve import ToneCurve, fit_curve
from noggin.core.units import Stops
from noggin.documents.written import GearWritten
from noggin.photos.patches import Patch, measure
from noggin.photos.photo import Photo, read_photo
from noggin.services.clock import Clock
from noggin.services.gear.kit import change_gear, kind_of, open_gear
from noggin.services.keeping.kept import KeptItem
from noggin.store.store import Store

MIDDLE = Patch(0.4, 0.4, 0.2, 0.2)
"""What of a frame of a card is read: the card fills the frame, or most of it."""


def curve_of(store: Store, body: str) -> ToneCurve | None:
    """The curve of a body, by what its files call it; None where none was fitted."""
    for item in store.gear.all():
        found = item.document.get("jpeg_curve")
        if found and found["body"] == body:
            return ToneCurve(tuple(found["reads"]), tuple(found["really"]))
    return None


def fit(store: Store, clock: Clock, gear_id: int, files: Sequence[tuple[str, bytes]]) -> KeptItem:
    """Fit the curve of a body from JPEGs of one card in one light, exposed from dark to bright, and keep it
    with the body. Raises NotKept, Refused, Unreadable."""
    if kind_of(open_gear(store, gear_id)) != "body":
        raise Refused("body", "only a body has a curve")
    photos = [read_photo(raw, name) for name, raw in files]
    bodies = {photo.exif.body for photo in photos}
    if len(bodies) > 1:
        raise Refused("frames", f"they are of several bodies: {', '.join(sorted(bodies))}")
    curve = fit_curve([(exposed(photo), measure(photo, MIDDLE).level) for photo in photos])

    def change(document: GearWritten) -> None:
        document["jpeg_curve"] = {
            "body": next(iter(bodies)),
            "reads": [round(level, 3) for level in curve.reads],
            "really": [round(level, 3) for level in curve.really],
        }

    return change_gear(store, clock, gear_id, "JPEG curve fitted", change)


def exposed(photo: Photo) -> Stops:
    """How a frame was exposed, in stops: log2(t · ISO/100 / N²). Raises Refused where its file does not
    say, and for a raw file, which has no curve."""
    exif = photo.exif
    if photo.kind == "raw":
        raise Refused("frames", f"{photo.name} is a raw file: only a rendered one has a curve")
    if exif.shutter_s is None or exif.aperture is None or exif.iso is None:
        raise Refused("frames", f"{photo.name} does not say how it was exposed")
    return log2(exif.shutter_s * exif.iso / 100 / exif.aperture**2)
