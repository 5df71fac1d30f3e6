"""What people believe, met again and again, each with the fact that answers it. Common practice, no
source."""

from collections.abc import Mapping
from dataclasses import dataclass

from noggin.core.advice.shutter_words import QUESTIONS

SHUTTER_QUESTIONS = {question.key: question.given for question in QUESTIONS}


@dataclass(frozen=True)
class Belief:
    """A belief: its key, as it is said, the fact, and the figures with which the fact is seen inside the
    shutter (None: it is not seen there)."""

    key: str
    said: str
    fact: str
    seen: Mapping[str, str] | None = None


BELIEFS = (
    Belief(
        "hss_power",
        "High-speed sync gives more power.",
        "It takes 1 to 2½ stops at the sync speed, and one more for each stop of time.",
        SHUTTER_QUESTIONS["hss_costs"],
    ),
    Belief(
        "time_dims_flash",
        "A shorter time within sync dims the flash.",
        "It does not: the pop is over before the shutter closes. It dims daylight.",
        SHUTTER_QUESTIONS["within_sync"],
    ),
    Belief(
        "iso_daylight",
        "ISO is for daylight and aperture is for flash.",
        "Both move both. Only time and power tell them apart, and in high-speed sync time moves both too.",
    ),
    Belief(
        "nd_daylight",
        "An ND filter darkens daylight and leaves the flash.",
        "It darkens both. What it buys is the open aperture at sync speed.",
    ),
    Belief(
        "half_light",
        "Twice the distance halves the light.",
        "It leaves a quarter: two stops. One stop is ×1.4.",
    ),
    Belief(
        "twice_as_far",
        "Twice the watt-seconds carry twice as far.",
        "They carry ×1.4: one stop more is √2 in distance.",
    ),
    Belief(
        "large_is_soft",
        "A large modifier is soft.",
        "Only near: what counts is its size against its distance.",
    ),
    Belief(
        "closer_brightens",
        "Moving the light closer brightens the background too.",
        "It darkens it, at the power that keeps the face: the light falls off faster behind it.",
    ),
    Belief(
        "weak_flash_bar",
        "A black bar means a weak flash.",
        "It means time: rows were closed again when the pop began.",
        SHUTTER_QUESTIONS["black_bar"],
    ),
    Belief(
        "hss_freezes",
        "High-speed sync freezes because its light is short.",
        "Its light lasts as long as the slit travels; the shutter freezes. Within sync the pulse does,"
        " where daylight is three stops under.",
        SHUTTER_QUESTIONS["hss_costs"],
    ),
    Belief(
        "leaf_is_free",
        "A leaf shutter at 1/1600 costs no flash.",
        "The pop may last longer than the blades are open.",
        SHUTTER_QUESTIONS["leaf_short"],
    ),
    Belief(
        "screen_shows",
        "The screen shows the exposure.",
        "The histogram does. The screen looks dark in the sun and bright in the dark.",
    ),
    Belief(
        "auto_knows",
        "Automatic flash knows what I want.",
        "It knows the mean of what it sees: white pulls a face down, black pushes it up.",
    ),
    Belief(
        "half_power",
        "Half power is half a stop.",
        "It is one stop. 70 % is half a stop.",
    ),
)
"""Every belief."""

BY_KEY = {belief.key: belief for belief in BELIEFS}
