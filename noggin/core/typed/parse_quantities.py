"""What people type, and what they mean by it. Every reading has its usual notation to show back.

`1/250` `250` `f/2.8` `2.8` `8 ft` `9'6"` `2.4 m` `ND8` `0.9` `3 stops` are understood where they make
sense. Readers raise Unreadable with what would have been understood; limits are checked elsewhere.
"""

import re
from collections.abc import Sequence
from fractions import Fraction
from math import floor

from noggin.core.errors import unlike
from noggin.core.physics.filters import Filter, stops_of_density, stops_of_factor
from noggin.core.tables import WHITE_BALANCES
from noggin.core.typed.text import NUMBER, matched, tidied
from noggin.core.units import EV100, METRES_PER_FOOT, FNumber, Metres, Seconds, Stops
from noggin.core.wording import distance_unit, number, plain, stops

MOST_STOPS: Stops = 100
"""More stops than any power scale has."""

GUIDE_FEET_PER_METRE = 3.28
"""Guide number in feet over guide number in metres. ISO 1230 figures as printed in manuals."""


def read_fraction(text: str) -> float:
    """`1/128`, `0.5` or `2` as a positive number.

    >>> read_fraction("1/128"), read_fraction("0.5")
    (0.0078125, 0.5)
    """
    wanted = ("a number", "1/128 or 0.5")
    found = matched(r"(NUM)(?: ?/ ?(NUM))?", text, wanted)
    below = Fraction(found[2] or "1")
    if below == 0:
        raise unlike(text, wanted)
    return float(Fraction(found[1]) / below)


def read_power(text: str, full_mark: float | None = None, energy_ws: float | None = None) -> float:
    """A flash power as a fraction of full: `1/4`, `1/4 -0.3`, `1/2 +1/3`, `0.4`, `60%`, `half`; with
    `full_mark`, the mark of full power on a scale where each whole number is a stop, also `7.3`; with
    `energy_ws`, the energy of a full pop, also `240 Ws`.

    >>> round(read_power("1/4 -0.3"), 3), read_power("1/128"), read_power("7", full_mark=10)
    (0.198, 0.0078125, 0.125)
    >>> read_power("60%"), read_power("240 Ws", energy_ws=600)
    (0.6, 0.4)
    """
    tidy = tidied(text)
    if tidy.removesuffix(" power") in POWER_WORDS:
        return POWER_WORDS[tidy.removesuffix(" power")]
    share = re.fullmatch(rf"({NUMBER}) ?(%|ws|j)", tidy)
    if share and share[2] == "%":
        return float(share[1]) / 100
    if share and energy_ws is not None:
        return float(share[1]) / energy_ws
    if share:
        raise unlike(text, ("a power here: the energy of this light is not given", "1/2 or 60%"))
    if full_mark is not None and re.fullmatch(NUMBER, tidy):
        return _of_stops(float(tidy) - full_mark)
    wanted = ("a power", "1/128 or 1/4 −0.3")
    found = matched(r"(NUM(?: ?/ ?NUM)?)(?: ([+-] ?(?:NUM|\d/\d)))?", text, wanted)
    between = read_stops(found[2]) if found[2] else 0.0
    return float(read_fraction(found[1]) * _of_stops(between))


POWER_WORDS = {"full": 1.0, "half": 0.5, "quarter": 0.25, "an eighth": 0.125, "eighth": 0.125}
"""Powers as they are said."""


def _of_stops(stops: Stops) -> float:
    """A factor of so many stops; of more than any power has, one that every limit refuses."""
    return float(2.0 ** max(-MOST_STOPS, min(stops, MOST_STOPS)))


def read_energy(text: str) -> float:
    """Watt-seconds of a full pop: `600`, `600 Ws`, `400 J`.

    >>> read_energy("600 Ws"), read_energy("200")
    (600.0, 200.0)
    """
    return float(matched(r"(NUM) ?(?:ws|j)?", text, ("an energy", "600 Ws"))[1])


def read_weight(text: str) -> float:
    """A weight in kilograms: `1.6`, `1.6 kg`, `450 g`.

    >>> read_weight("1.6 kg"), read_weight("450 g")
    (1.6, 0.45)
    """
    found = matched(r"(NUM) ?(kg|g)?", text, ("a weight", "1.6 kg"))
    return float(found[1]) / (1000 if found[2] == "g" else 1)


def as_fraction(value: float) -> str | None:
    """A figure as `1/128`; None where no such fraction says exactly the same.

    >>> as_fraction(1 / 128), as_fraction(1 / 3), as_fraction(0.4)
    ('1/128', '1/3', None)
    """
    if value <= 0:
        return None
    text = f"1/{max(1, round(1 / value))}"
    return text if read_fraction(text) == value else None


def read_shutter(text: str) -> Seconds:
    """`1/250`, `250` (meaning 1/250), `0.5`, `2 s`, `2"` in seconds.

    >>> read_shutter("1/250") == read_shutter("250") == 1 / 250
    True
    >>> read_shutter('2"'), read_shutter("0.5"), read_shutter("1")
    (2.0, 0.5, 1.0)
    """
    wanted = ("a time", "1/500")
    found = matched(r'(NUM)(?: ?/ ?(NUM))? ?(s|sec|")?', text, wanted)
    if not found[2] and not found[3] and found[1].isdigit() and int(found[1]) > 1:
        return 1 / int(found[1])
    time_s = read_fraction(found[1] if not found[2] else f"{found[1]}/{found[2]}")
    if time_s == 0:
        raise unlike(text, wanted)
    return time_s


def read_milliseconds(text: str) -> Seconds:
    """A short time in milliseconds, `4.2` or `4.2 ms`, or as a fraction of a second, `1/240`; in seconds.

    >>> read_milliseconds("4 ms"), read_milliseconds("1/500")
    (0.004, 0.002)
    """
    found = matched(r"(NUM)(?: ?/ ?(NUM))? ?(?:ms|s)?", text, ("a short time", "4.2 ms or 1/240"))
    return read_fraction(f"{found[1]}/{found[2]}") if found[2] else float(found[1]) / 1000


def read_aperture(text: str) -> FNumber:
    """`f/2.8`, `f2.8` or `2.8` as an f-number.

    >>> read_aperture("f/2.8"), read_aperture("F2,8"), read_aperture("16")
    (2.8, 2.8, 16.0)
    """
    return float(matched(r"(?:f ?/? ?)?(NUM)", text, ("an aperture", "f/2.8"))[1])


def read_distance(text: str) -> Metres:
    """`2.4 m`, `240 cm`, `8 ft`, `8'`, `9'6"` or `33 in` in metres; a bare figure is in the reader's unit.

    >>> read_distance("2.4 m"), read_distance("240cm"), round(read_distance("9'6\\""), 4)
    (2.4, 2.4, 2.8956)
    >>> round(read_distance("33 in"), 4), round(read_distance('33"'), 4)
    (0.8382, 0.8382)
    """
    inches = re.fullmatch(rf'({NUMBER}) ?(?:in|inch|inches|")', tidied(text))
    if inches:
        return float(inches[1]) / 12 * METRES_PER_FOOT
    wanted = ("a distance", "2.4 m or 8 ft")
    feet = r"(NUM) ?(?:ft|feet|foot|') ?(?:(NUM) ?(?:in|\")?)?"
    found = matched(rf"(?:(NUM) ?(m|cm)?|{feet})", text, wanted)
    if found[1] and not found[2] and distance_unit() == "ft":
        return float(found[1]) * METRES_PER_FOOT
    if found[1]:
        return float(found[1]) / (100 if found[2] == "cm" else 1)
    return (float(found[3]) + float(found[4] or 0) / 12) * METRES_PER_FOOT


def read_distances(text: str) -> list[Metres]:
    """Several distances, one after another.

    >>> read_distances("2.2 m, 2.6 m; 3")
    [2.2, 2.6, 3.0]
    """
    parts = re.split(r";|,(?!\d)|,(?= )", text)
    return [read_distance(part) for part in parts if part.strip()]


def read_stops(text: str) -> Stops:
    """A level in stops, signed: `-1`, `+0.7`, `-1 1/3`, `0`. `.3` and `.7` mean thirds, as on a dial.

    >>> read_stops("−1"), read_stops("+2 stops"), read_stops("-1 1/3") == read_stops("-1.3")
    (-1.0, 2.0, True)
    """
    wanted = ("a number of stops", "−1 or +0.3")
    found = matched(r"([+-]?) ?(?:(NUM)|(?:(\d+) )?(\d)/(\d)) ?(?:stops?|ev)?", text, wanted)
    if found[2]:
        size = _thirds_as_engraved(float(found[2]))
    else:
        size = int(found[3] or 0) + read_fraction(f"{found[4]}/{found[5]}")
    return -size if found[1] == "-" else size


def _thirds_as_engraved(size: float) -> float:
    whole = floor(size)
    third = {"0.3": 1 / 3, "0.33": 1 / 3, "0.7": 2 / 3, "0.67": 2 / 3}.get(f"{size - whole:.4g}")
    return size if third is None else whole + third


def read_amount(text: str) -> Stops:
    """A measured loss, gain or toll in stops, taken at its word: `1.3`, `-0.5`, `1.1 stops`.

    >>> read_amount("1.3"), read_amount("-0,5 stops")
    (1.3, -0.5)
    """
    return float(matched(r"([+-]?(?:NUM)) ?(?:stops?)?", text, ("a number of stops", "1.3"))[1])


def read_ev(text: str) -> EV100:
    """An EV at ISO 100: `14.6`, `EV 14.6`, `-2`.

    >>> read_ev("EV 14.6"), read_ev("-2")
    (14.6, -2.0)
    """
    return float(matched(r"(?:ev ?)?([+-]?(?:NUM))", text, ("an EV", "14.6"))[1])


def read_degrees(text: str) -> float:
    """An azimuth from north through east: `200`, `200°`.

    >>> read_degrees("200°")
    200.0
    """
    return float(matched(r"(NUM) ?(?:°|deg)?", text, ("degrees from north", "200"))[1])


def read_percent(text: str) -> float:
    """A share in per cent, as a fraction: `20`, `20 %`.

    >>> read_percent("20 %")
    0.2
    """
    return read_percent_figure(text) / 100


def read_percent_figure(text: str) -> float:
    """A figure in per cent as it stands: `3 %`.

    >>> read_percent_figure("2.5")
    2.5
    """
    return float(matched(r"(NUM) ?%?", text, ("a percentage", "20"))[1])


def read_count(text: str) -> int:
    """A whole number: `3`.

    >>> read_count("3")
    3
    """
    return int(matched(r"(\d{1,6})", text, ("a whole number", "3"))[1])


def read_iso(text: str) -> float:
    """`100` or `ISO 100`.

    >>> read_iso("iso 64")
    64.0
    """
    return float(matched(r"(?:iso ?)?(NUM)", text, ("an ISO", "100"))[1])


def read_focal(text: str) -> float:
    """`85` or `85 mm`.

    >>> read_focal("85mm")
    85.0
    """
    return float(matched(r"(NUM) ?(?:mm)?", text, ("a focal length", "85 mm"))[1])


def read_guide_number(text: str) -> Metres:
    """`60`, `GN 60`, `60 m` or `197 ft`, at ISO 100, in metres.

    >>> read_guide_number("GN 60"), round(read_guide_number("197 ft"))
    (60.0, 60)
    """
    wanted = ("a guide number", "60 or 197 ft")
    found = matched(r"(?:gn ?)?(NUM) ?(m|ft|feet)?", text, wanted)
    return float(found[1]) / (GUIDE_FEET_PER_METRE if found[2] in ("ft", "feet") else 1)


DENSITIES = (0.3, 0.6, 0.9, 1.2, 1.5, 1.8, 2.1, 2.4, 2.7, 3.0)
"""Densities that filters are marked with."""


_STOPS_MOST_BARE = 16
"""A bare whole number over this is a factor (64, 1000), not stops."""


def read_filter(text: str) -> tuple[Stops, Stops]:
    """One filter as least and most stops: `ND8`, `0.9`, `3`, `3 stops`, `64`, `2-5`.

    A bare figure written like a marked density (0.9, 1.8) is a density; a bare whole number up to 16
    is stops, a larger one a factor.

    >>> read_filter("ND8"), read_filter("6"), read_filter("64"), read_filter("2–5 stops")
    ((3.0, 3.0), (6.0, 6.0), (6.0, 6.0), (2.0, 5.0))
    >>> round(read_filter("0.9")[0], 2)
    2.99
    """
    wanted = ("a filter", "6 stops, ND64, 1.8 or 2–5")
    found = matched(r"(nd ?)?(NUM)(?: ?(?:-|to) ?(NUM))? ?(stops?)?", text, wanted)
    marked, figure = found[1], float(found[2])
    if found[3]:
        return figure, float(found[3])
    density = "." in found[2] and not found[4] and any(abs(figure - d) < 1e-9 for d in DENSITIES)
    if density:
        stops = stops_of_density(figure)
    elif not found[4] and (marked or figure > _STOPS_MOST_BARE):
        if figure <= 1:
            raise unlike(text, wanted)
        stops = stops_of_factor(figure)
    else:
        stops = figure
    return stops, stops


def read_filters(text: str) -> tuple[Filter, ...]:
    """A bag of filters, separated by commas, semicolons or "and"; empty for none. `0,9` and `2,5` are one
    figure each.

    >>> [f.name for f in read_filters("3,ND64; 2-5 and 0,9")]
    ['3-stop ND', '6-stop ND', 'ND 2–5 stops', '3-stop ND, no. 2']
    """
    parts = [part for part in re.split(r";|,(?!\d)|\band\b|\n", text) if part.strip()]
    names: dict[str, int] = {}
    bag = []
    for part in parts:
        least, most = read_filter(part)
        name = filter_name(least, most)
        names[name] = names.get(name, 0) + 1
        if names[name] > 1:
            name = f"{name}, no. {names[name]}"
        bag.append(Filter(name, least, most))
    return tuple(bag)


def filter_name(least: Stops, most: Stops) -> str:
    """The name a filter goes by when it has none of its own."""
    if most > least:
        return f"ND {number(least, 1)}–{stops(most)}"
    return f"{plain(least).removesuffix('.0')}-stop ND"


def show_filters(bag: Sequence[tuple[Stops, Stops]]) -> str:
    """The bag as it would be typed, from least and most stops of each, to a tenth; "stops" is said where
    the bare figure would be read as a density.

    >>> show_filters([(3, 3), (2, 5), (1.5, 1.5)])
    '3, 2–5, 1.5 stops'
    """
    return ", ".join(_show_filter(least, most) for least, most in bag)


def _show_filter(least: Stops, most: Stops) -> str:
    if most > least:
        return f"{number(least, 1)}–{number(most, 1)}"
    text = number(least, 1)
    return f"{text} stops" if "." in text and float(text) in DENSITIES else text


def read_kelvin(text: str) -> float:
    """A colour temperature: `5600`, `5600 K`, `5,600 K`, or a camera's word for one: `shade`, `flash`.

    >>> read_kelvin("5,600 K"), read_kelvin("3200"), read_kelvin("shade")
    (5600.0, 3200.0, 7500.0)
    """
    word = tidied(text)
    if word in WHITE_BALANCES:
        return WHITE_BALANCES[word]
    wanted = f"5600 K, {', '.join(WHITE_BALANCES)}"
    found = matched(r"(NUM) ?(?:k|kelvin)?", text, ("a colour temperature", wanted))
    return float(found[1])
