"""A picture that was made at the place: what stands behind the people in a proof, and the light of its
hour."""

from dataclasses import dataclass

from noggin.core import limits
from noggin.core.errors import Refused

Box = tuple[float, float, float, float]
"""A part of a picture, from its upper left corner: x, y, width, height as parts of the whole."""


@dataclass(frozen=True)
class Photograph:
    """A picture of the place by the name of its content (SHA-256 of the copy that is kept, hexadecimal):
    its field of view across, degrees; how far down its horizon lies, as a part of its height, which may be
    outside it; and where on it the background was read."""

    sha256: str
    field_deg: float
    horizon: float
    background: Box

    def __post_init__(self) -> None:
        limits.FIELD_ACROSS.check("photograph.field_deg", self.field_deg)
        limits.HORIZON.check("photograph.horizon", self.horizon)
        check_box("photograph.background", self.background)


def check_box(name: str, box: Box) -> None:
    """Raises Refused for what is no part of a picture."""
    x, y, width, height = box
    if not (0 <= x < 1 and 0 <= y < 1 and 0 < width <= 1 and 0 < height <= 1):
        raise Refused(name, "a box has some width and height, and lies in the picture")
