"""What is proposed when a way is short or lacks something: changed set-ups, worked out in closed form.

Whether a proposal helps, and by how much, is the business of `remedies`, which plans it again.
"""

from collections.abc import Callable, Iterator

from noggin.core.advice.camera_proposals import ON_CAMERA
from noggin.core.advice.daylight_proposals import ON_DAYLIGHT
from noggin.core.advice.light_proposals import ON_LIGHTS
from noggin.core.advice.remedy_case import Case, Proposal

ON_LIGHTS_AND_CAMERA: tuple[Callable[[Case], Iterator[Proposal]], ...] = (*ON_LIGHTS, *ON_CAMERA)
EVERYTHING = (*ON_LIGHTS_AND_CAMERA, *ON_DAYLIGHT)
"""What may be the second of a pair, and everything there is."""
