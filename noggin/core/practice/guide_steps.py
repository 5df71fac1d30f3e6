"""The order of work as a path through a set-up, one thing at a time: what to do, what to look at, and the
mistake that people make there. Common practice, no source."""

from dataclasses import dataclass


@dataclass(frozen=True)
class GuideStep:
    """One step: its key, its name, what to do, what to look at, the usual mistake, on which page it is done
    ("bench" or "spot"), and the part of that page (its id)."""

    key: str
    title: str
    does: str
    looks: str
    mistake: str
    page: str
    part: str


GUIDE_STEPS = (
    GuideStep(
        "composition",
        "Compose first",
        "Choose lens, distance and framing, with the sun behind them or to the side. No thought of"
        " flash yet.",
        "Is the face out of the sun? Is the place as blurred, or as clear, as you want it?",
        "Setting up the light first, and then composing around its stand.",
        "bench",
        "group-composition",
    ),
    GuideStep(
        "daylight",
        "Read the daylight",
        "Meter the background and the face, each by itself. No meter at hand: say place, day and time,"
        " and use the estimate.",
        "How many stops lie between the two? That is the shade the flash will fill.",
        "One reading for both. A face in its own shade lies two or three stops under the sunlit place.",
        "bench",
        "group-daylight",
    ),
    GuideStep(
        "background",
        "Set the background",
        "Say how dark it is meant: 0 natural, −1 balanced, −2 dramatic. Lowest ISO and your aperture"
        " stay; the shutter does the rest.",
        "Where do sky and background land on the scale? Does anything clip?",
        "Dimming the background with flash power: power moves the face alone.",
        "bench",
        "group-intention",
    ),
    GuideStep(
        "way",
        "Past sync, or not",
        "See whether the time is past the sync speed, and by which method the picture is made.",
        "What does each method leave to spare, what does it cost, and what must be carried?",
        "Taking high-speed sync for more power: it takes one to two and a half stops.",
        "bench",
        "board",
    ),
    GuideStep(
        "light",
        "Place the light",
        "Say how far the light is from the face, and what is before it: as near as the frame allows.",
        "Is it out of the frame? How much is left at full power?",
        "A large modifier far away: it is hard there, and weak.",
        "bench",
        "group-lights",
    ),
    GuideStep(
        "without_flash",
        "First frame: flash off",
        "Dial what stands on top, leave the flash off, and fire. Then say what you see.",
        "Is the sky clipped? How dark is the face? Is the background as you meant it?",
        "Beginning with the flash on: then nobody sees what is wrong with the daylight.",
        "spot",
        "dial-title",
    ),
    GuideStep(
        "with_flash",
        "Now the flash",
        "Switch it on at the power that is shown, and fire.",
        "Is the face lit, with a catchlight and a shadow side? Is there no dark band?",
        "The trigger is not in high-speed sync, and the camera falls back to the sync speed.",
        "spot",
        "dial-title",
    ),
    GuideStep(
        "look",
        "Look, and say it",
        "Say how background and face came out against what you meant; a file or a meter says it better.",
        "Read the histogram, zoom in to the eyes.",
        "Judging by the screen's brightness: it looks dark in the sun and bright in the dark.",
        "spot",
        "pop-title",
    ),
    GuideStep(
        "change",
        "Change one thing",
        "Dial the one change that is shown, fire, and look again, until it says Done.",
        "Did what you changed move as far as it should, and nothing else?",
        "Turning time and power at once: then nobody knows which of them did it.",
        "spot",
        "dial-title",
    ),
)
"""Every step, in the order of work."""
