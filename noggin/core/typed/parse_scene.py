"""What people type of a scene: how bright a zone is, lamps, wind, and who is in the picture."""

import re
from collections.abc import Sequence

from noggin.core.errors import unlike
from noggin.core.physics.appearance import CLOTHES, SKINS
from noggin.core.physics.dials import aperture_dial, aperture_stops, iso_stops, shutter_dial, shutter_stops
from noggin.core.physics.exposure import settings_ev
from noggin.core.physics.metering import off_card
from noggin.core.tables import (
    FULL_SUN,
    LAMP_WORDS,
    LAMPS,
    LAMPS_UNCERTAINTY,
    PLACE_LIGHT,
    PLACE_WORDS,
    SOURCES,
    SUN_SCALE,
    SUN_WORDS,
    WORD_UNCERTAINTY,
)
from noggin.core.typed.parse_quantities import read_ev, read_shutter, read_stops
from noggin.core.typed.text import NUMBER, matched, tidied, without_thousands
from noggin.core.units import EV100, Stops


def read_zone(text: str) -> tuple[EV100, Stops]:
    """How bright a zone is, in any way it can be known, as EV100 and its ± in stops.

    An EV or incident reading (`14.6`, `incident 14.3`), a reading off an 18% card (`card 15.2`), settings
    that looked right (`1/200 f/8 ISO 400`, in any order) with where the zone landed if that was not
    mid-tone (`f/16 1/250 ISO 200, −2`), a word of the full-sun scale (`hazy sun`, `cloudy`), a kind of
    place (`alley`, `under trees`), or lamps (`fairy lights`).

    >>> read_zone("14.6"), read_zone("hazy sun")
    ((14.6, 0.3), (13.6, 1.0))
    >>> read_zone("1/125 f/16"), round(read_zone("card 14.6")[0], 2)
    ((15.0, 0.3), 14.0)
    >>> read_zone("f/16 1/125 ISO 200, −2"), read_zone("lanterns"), read_zone("1/125s f16")
    ((12.0, 0.3), (4.0, 1.5), (15.0, 0.3))
    >>> read_zone("alley"), read_zone("window light")
    ((7.5, 2.5), (7.5, 2.0))
    """
    tidy = tidied(text)
    word = SUN_WORDS.get(tidy, tidy)
    if word in SUN_SCALE:
        return FULL_SUN + SUN_SCALE[word], WORD_UNCERTAINTY
    if tidy in LAMP_WORDS:
        return LAMPS[LAMP_WORDS[tidy]].ev, LAMPS_UNCERTAINTY
    place = PLACE_LIGHT.get(PLACE_WORDS.get(tidy, tidy))
    if place is not None:
        return place.ev, place.uncertainty
    measured = SOURCES["measured"].uncertainty
    card = re.fullmatch(r"(?:grey |gray )?card (.+)", tidy)
    if card:
        return off_card(read_ev(card[1])), measured
    settings = _read_settings(text)
    if settings is not None:
        return settings, measured
    bare = re.fullmatch(rf"(?:incident )?(?:ev ?)?[+-]?(?:{NUMBER})", tidy)
    if not bare:
        words = ", ".join((*SUN_SCALE, *PLACE_LIGHT))
        raise unlike(text, ("an EV", f"14.6, 1/200 f/8, card 15.2, {words}"))
    return read_ev(tidy.removeprefix("incident ")), measured


_SETTING = re.compile(
    rf"(?P<time>1/\d+(?: ?s\b)?|(?:{NUMBER}) ?(?:s\b|\"))|f ?/? ?(?P<stop>{NUMBER})|iso ?(?P<iso>{NUMBER})"
    rf"|(?P<bare>{NUMBER})"
)


def _read_settings(text: str) -> EV100 | None:
    """EV100 of a zone from settings in any order and where it landed in them; None for anything else."""
    plain_signs = re.sub(r"(?<=\d),(?=\d)", ".", without_thousands(text).translate(_SETTING_SIGNS).lower())
    said, *landed = re.split(
        r"[,;] ?(?=[+-])|,? landed (?:at )?| at (?=[+-])", " ".join(plain_signs.split())
    )
    found: dict[str, str] = {}
    for part in _SETTING.finditer(said):
        kind = str(part.lastgroup)
        key = "iso" if kind == "bare" else kind
        if key in found:
            return None
        found[key] = part[kind]
    if (
        re.sub(r"[ ,;]+", "", _SETTING.sub("", said))
        or not {"time", "stop"} <= set(found)
        or len(landed) > 1
    ):
        return None
    if not float(found["stop"]) or not float(found.get("iso", 100)):
        return None
    time = shutter_dial(3).nearest(shutter_stops(read_shutter(found["time"])))
    stop = aperture_dial(3).nearest(aperture_stops(float(found["stop"])))
    iso = iso_stops(float(found.get("iso", 100)))
    level = read_stops(landed[0]) if landed else 0.0
    return settings_ev(time.stops, stop.stops, iso) + level


_SETTING_SIGNS = str.maketrans({"−": "-", "–": "-", "—": "-", "″": '"', "”": '"'})


def read_people(text: str) -> list[dict[str, str | None]]:
    """Who is in the picture, one after another: skin and clothes in words.

    >>> read_people("fair in white dress, deep in dark suit")[1]
    {'skin': 'deep', 'wears': 'dark suit'}
    """
    wanted = ("a person", f"{', '.join(SKINS)}, in {', '.join(CLOTHES)}")
    found = []
    for part in re.split(r"[,;]| and ", " ".join(text.lower().split())):
        if not part.strip():
            continue
        skin = next((key for key in SKINS if re.search(rf"\b{key}\b", part)), None)
        wears = next(
            (key for key in CLOTHES if key in part or re.search(rf"\b{key.split()[-1]}\b", part)), None
        )
        if skin is None and wears is None:
            raise unlike(part.strip(), wanted)
        found.append({"skin": skin, "wears": wears})
    return found


def show_people(people: Sequence[dict[str, str | None]]) -> str:
    """Who is in the picture, as it would be typed.

    >>> show_people([{"skin": "fair", "wears": "white dress"}, {"skin": "deep", "wears": None}])
    'fair in white dress, deep'
    """
    return ", ".join(" in ".join(filter(None, (one.get("skin"), one.get("wears")))) for one in people)


def read_wind(text: str) -> float:
    """A gust in m/s: `10`, `10 m/s`, `36 km/h`, `20 knots`.

    >>> read_wind("36 km/h"), read_wind("10")
    (10.0, 10.0)
    """
    found = matched(r"(NUM) ?(m/s|km/h|kmh|kn|knots?|mph)?", text, ("a wind", "10 m/s or 36 km/h"))
    per = {"km/h": 1 / 3.6, "kmh": 1 / 3.6, "mph": 0.44704}.get(found[2] or "", 0.0)
    return float(found[1]) * (per or (0.514444 if (found[2] or "").startswith("kn") else 1.0))


def read_lamps(text: str) -> EV100:
    """What lamps give a zone: their name, or an EV.

    >>> read_lamps("fairy lights"), read_lamps("EV 3")
    (4.0, 3.0)
    """
    tidy = tidied(text)
    if tidy in LAMP_WORDS:
        return LAMPS[LAMP_WORDS[tidy]].ev
    return float(
        matched(r"(?:ev ?)?([+-]?(?:NUM))", text, ("lamps", f"{', '.join(LAMP_WORDS)}, or EV 4"))[1]
    )
