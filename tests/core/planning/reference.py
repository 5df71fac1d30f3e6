"""A second solver that knows nothing of the first: every dial position tried, in plain formulas.

Written from the description of the plan document alone; slow and simple, for tests to compare with.
"""

from collections.abc import Iterator
from dataclasses import dataclass, field, replace
from functools import lru_cache
from itertools import combinations, product
from math import floor, hypot, log2

from noggin.core.setup.light import Light
from noggin.core.setup.setup import SetUp

EPS = 1e-9
SLACK = 0.005
THIRD = 1 / 3
ROLE_LEVELS = {"key": 0.0, "fill": -1.5, "rim": 0.5}
WAYS = ("within_sync", "stop_down", "nd", "mixed", "hss")

Row = tuple[int, float, float, float, float]
"""Number of filters, aperture, time, ISO and filter strength of one setting, in stops."""


@dataclass
class Judgement:
    """What one setting gives: levels of light, and how far off it is."""

    error: float = 0.0
    counted: float = 0.0
    short: dict[int, float] = field(default_factory=dict)
    strong: dict[int, float] = field(default_factory=dict)
    absent: list[int] = field(default_factory=list)
    reserve: float | None = None
    downs: dict[int, float] = field(default_factory=dict)
    subject: float = 0.0
    ambient: float = 0.0
    miss: float = 0.0
    weighed: float = 0.0
    verdict: str = "short"

    @property
    def is_short(self) -> bool:
        """Whether any light is short."""
        return any(short > SLACK for short in self.short.values())


@dataclass
class Answer:
    """One way: its verdict, setting, what it misses, and what the order goes by."""

    way: str
    verdict: str
    row: Row
    miss: float
    reserve: float | None
    means: bool = False
    drawbacks: float = 0.0
    smears: float = 0.0
    moves: dict[int, float] = field(default_factory=dict)
    judged: Judgement = field(default_factory=Judgement)


def stacks(setup: SetUp) -> list[tuple[int, float]]:
    """Every (number of filters, stops) that one or two filters of the bag can be set to."""
    found = [(1, stops) for item in setup.filters for stops in turns(item.least, item.most)]
    for first, second in combinations(setup.filters, 2):
        # Two that are turned, by their span or as a polariser, never go together.
        if not all(item.polariser or item.most > item.least for item in (first, second)):
            strengths = turns(first.least, first.most), turns(second.least, second.most)
            found += [(2, x + y) for x, y in product(*strengths)]
    return found


def turns(least: float, most: float) -> list[float]:
    """What a variable filter can be set to, in sixths of a stop."""
    return [least + k / 6 for k in range(200) if least + k / 6 <= most + EPS]


@lru_cache(maxsize=4096)
def at_the_lens(light: Light) -> float:
    """A full pop where it falls, at f/1, ISO 100, without a filter."""
    level = 2 * log2(light.gn_m / light.distance_m) + log2(light.count) - light.loss
    level -= {None: 0.0, "quarter_cto": 0.3, "half_cto": 0.5, "full_cto": 0.85}[light.gel]
    return level - log2(1 + (light.radius_m / light.distance_m) ** 2)


def full_level(setup: SetUp, light: Light, av: float, tv: float, sv: float, nd: float) -> float | None:
    """A light's level at full power; None past sync where it cannot do high-speed sync."""
    level = at_the_lens(light) + sv - av - nd
    past = tv - setup.camera.sync.stops
    if past > EPS:
        if light.hss_toll is None or not setup.camera.hss:
            return None
        return level - light.hss_toll - past
    return level + log2(caught(setup, light, tv))


def caught(setup: SetUp, light: Light, tv: float) -> float:
    """Share of a full exponential pulse that the opening sees: under curtains all of it, but where both
    pulse and travel are stated."""
    t05_s = light.pulse.t05_s if light.pulse else {"cut": 1 / 250}[light.head] / log2(10)
    if setup.camera.shutter in ("leaf", "global"):
        return float(1 - 0.5 ** (2**-tv / t05_s))
    if light.pulse is None or setup.camera.curtain_s is None:
        return 1.0
    return float(1 - 0.5 ** ((2**-tv - setup.camera.curtain_s / 2) / t05_s))


def spare(setup: SetUp, light: Light, tv: float) -> float:
    """What a head that cuts its pulse can be turned down before the opening misses less."""
    cuts = light.pulse is None or light.pulse.head == "cut"
    return -log2(caught(setup, light, tv)) if cuts and tv <= setup.camera.sync.stops + EPS else 0.0


def dialled(setup: SetUp, light: Light, tv: float, reserve: float) -> float:
    """By how much a light is off when it is dialled down by its reserve, in its own steps."""
    more = spare(setup, light, tv)
    steps = -(-((reserve + more) / light.power_step - 0.5 - EPS) // 1)
    down = min(max(steps * light.power_step, 0), -log2(light.power_min))
    return min(reserve + more - down, reserve)


def falloff(setup: SetUp, light: Light) -> float:
    """From the subject to the background, seen from a light."""
    far = light.distance_m + setup.scene.background_distance_m - setup.scene.subject_distance_m
    return log2((light.distance_m**2 + light.radius_m**2) / (far**2 + light.radius_m**2))


def relative(light: Light) -> float | None:
    """Stops from the key, as stated or of the role; None for a background light that tops up."""
    return light.relative_level if light.relative_level is not None else ROLE_LEVELS.get(light.role)


class Fired:
    """The lights of one setting, fired one after another."""

    def __init__(self, setup: SetUp, row: Row, found: Judgement) -> None:
        _, av, self.tv, sv, nd = row
        self.setup, self.found = setup, found
        self.lights = dict(enumerate(setup.lights))
        self.key = next(index for index, light in self.lights.items() if light.role == "key")
        self.full = {
            index: full_level(setup, light, av, self.tv, sv, nd) for index, light in self.lights.items()
        }
        found.absent = [index for index, level in self.full.items() if level is None]

    def least(self, index: int) -> float:
        """A light's level at its least power."""
        light, level = self.lights[index], self.full[index]
        assert level is not None
        return min(level + spare(self.setup, light, self.tv) + log2(light.power_min), level)

    def fire(self, index: int, wanted: float) -> float | None:
        """The level a light gives, with what is off noted; None where it cannot take part."""
        light, level = self.lights[index], self.full[index]
        if level is None:
            return None
        reserve = level - wanted
        self.found.short[index] = max(-reserve, 0.0)
        self.found.strong[index] = max(self.least(index) - wanted, 0.0)
        gives = wanted + dialled(self.setup, light, self.tv, reserve)
        down = level + spare(self.setup, light, self.tv) - gives
        self.found.downs[index] = min(down, -log2(light.power_min))
        if index == self.key:
            self.found.reserve = reserve
        return gives

    def key_need(self, ambient: float) -> float | None:
        """What the key must give; None where it stays off."""
        intent = self.setup.intent
        if intent.school == "match":
            total = intent.subject_level
        elif intent.school == "share":
            share = intent.share or 0.0
            total = ambient + log2(share / (1 - share))
        elif ambient >= intent.subject_level - EPS:
            return None
        else:
            total = log2(2**intent.subject_level - 2**ambient)
        lights = self.setup.lights
        both = sum(2 ** (relative(light) or 0.0) for light in lights if light.role in ("key", "fill"))
        need = total - log2(both)
        close = intent.school in ("total", "auto") and ambient >= intent.subject_level - THIRD - EPS
        if close and self.full[self.key] is not None and self.least(self.key) - need > THIRD + EPS:
            return None
        return need

    def topped_up(self, topping: list[int], has: float) -> float:
        """Linear light that background lights without a level of their own add."""
        meant, half = self.setup.intent.background_level, self.setup.dial_step / 2
        if not topping or has >= meant - half - EPS:
            return 0.0
        wanted = log2((2**meant - 2**has) / len(topping))
        near = has >= meant - max(THIRD, half) - EPS
        added = 0.0
        for index in topping:
            if self.full[index] is None or (near and self.least(index) - wanted > THIRD + EPS):
                continue
            gives = self.fire(index, wanted)
            added += 0.0 if gives is None else 2**gives
        return added


def judge(setup: SetUp, row: Row) -> Judgement:
    """One setting judged: the levels first, then what is off."""
    _, av, tv, sv, nd = row
    taken = av + tv - sv + nd
    ambient, behind = setup.scene.subject - taken, setup.scene.background - taken
    found = Judgement()
    fired = Fired(setup, row, found)
    need = fired.key_need(ambient)
    on_background, on_subject = 2**behind, 2**ambient
    topping = [i for i, one in fired.lights.items() if one.role == "background" and relative(one) is None]
    for index, light in fired.lights.items():
        if index in topping or need is None:
            continue
        gives = fired.fire(index, need + (relative(light) or 0.0))
        if gives is not None and light.role in ("key", "fill"):
            on_subject += 2**gives
            on_background += 2 ** (gives + falloff(setup, light))
        elif gives is not None and light.role == "background":
            on_background += 2**gives
    on_background += fired.topped_up(topping, log2(on_background))
    found.subject, found.ambient = log2(on_subject), behind
    found.error = log2(on_background) - setup.intent.background_level
    weigh(setup, found)
    return found


def weigh(setup: SetUp, found: Judgement) -> None:
    """Verdict and miss of what was found."""
    half, meant = setup.dial_step / 2, setup.intent.background_level
    weight = 0.0 if meant <= -4 else 0.5 if meant < -3 else 1.0
    found.counted = found.error if found.error > 0 else -found.error * weight
    shorts, strongs = found.short.values(), found.strong.values()
    lights = sum(shorts) + sum(max(s - THIRD, 0) for s in strongs)
    found.miss = max(found.counted - half, 0) + lights
    found.weighed = 2 * max(found.counted - half, 0) + lights
    able = not found.absent and all(strong <= THIRD + SLACK for strong in strongs)
    if able and found.counted <= half + SLACK and all(short <= SLACK for short in shorts):
        found.verdict = "holds"
    elif able and found.counted <= max(THIRD, half) + SLACK and all(s <= THIRD + SLACK for s in shorts):
        found.verdict = "just"
    else:
        found.verdict = "short"


def solve(setup: SetUp) -> list[Answer]:
    """Every way, in the order of the rules."""
    answers = [answer(setup, way) for way in WAYS]
    for one in answers:
        if one.verdict == "short" and not one.means:
            one.moves = mend(setup, one)
            one.verdict = "mend" if one.moves else "short"
    works = [one for one in answers if one.verdict in ("holds", "just")]
    mended = [one for one in answers if one.verdict == "mend"]
    short = [one for one in answers if one.verdict == "short"]
    rest = [one for one in answers if one.verdict == "not_needed"]
    works.sort(key=lambda one: order_key(setup, one))
    mended.sort(key=lambda one: round(sum(s for s in one.judged.short.values() if s > SLACK), 9))
    short.sort(key=lambda one: (True, 0) if lacks_means(one) else (False, in_steps(one.miss, 0.05)))
    first = [one for one in works if as_meant(setup, one)]
    return first + mended + [one for one in works if not as_meant(setup, one)] + short + rest


def as_meant(setup: SetUp, one: Answer) -> bool:
    """Whether a way keeps the wanted aperture within a stop and smears by no more than one."""
    off = 0.0 if setup.intent.aperture_free else abs(one.row[1] - setup.wanted_aperture.stops)
    return off <= 1 + SLACK and one.smears <= 1 + SLACK


def mend(setup: SetUp, one: Answer) -> dict[int, float]:
    """Where each light that is short would stand, by its place; empty where a move does not mend it."""
    half, found = setup.dial_step / 2, one.judged
    if found.absent or any(strong > THIRD + SLACK for strong in found.strong.values()):
        return {}
    if abs(one.row[1] - setup.wanted_aperture.stops) > THIRD + SLACK or one.smears > 1 + SLACK:
        return {}
    if found.counted > max(THIRD, half) + SLACK:
        return {}
    moves = {}
    for index, short in found.short.items():
        if short <= SLACK:
            continue
        light = setup.lights[index]
        squared = (light.distance_m**2 + light.radius_m**2) / 2**short - light.radius_m**2
        if short > 1.5 + SLACK or squared < 0.25:
            return {}
        moves[index] = floor(squared**0.5 / 0.05 + EPS) * 0.05
    if not moves:
        return {}
    lights = tuple(
        replace(light, distance_m=round(moves.get(index, light.distance_m), 4))
        for index, light in enumerate(setup.lights)
    )
    again = answer(replace(setup, lights=lights), one.way)
    return moves if again.verdict in ("holds", "just") else {}


def lacks_means(one: Answer) -> bool:
    """Whether a filter, a smaller aperture or high-speed sync is lacking."""
    return one.means or bool(one.judged.absent)


def in_steps(value: float, step: float) -> int:
    """Rounded to whole steps, halves up."""
    return floor(value / step + 0.5 + EPS)


def order_key(setup: SetUp, one: Answer) -> tuple[float, ...]:
    """What ways that work are ordered by, smaller first."""
    count, av, *_ = one.row
    off = in_steps(abs(av - setup.wanted_aperture.stops), THIRD)
    keeps = 0 if setup.intent.aperture_free or off <= 1 else off
    reserve = 3.0 if one.reserve is None else one.reserve
    glass = (count, off, -in_steps(reserve, THIRD))
    prefer = setup.intent.prefer
    if prefer == "speed":
        last: tuple[float, ...] = (("within_sync", "hss", "stop_down", "mixed", "nd").index(one.way),)
    elif prefer == "glass":
        last = glass
    else:
        # Uncertainties are stated as nought where this solver is compared, so a stop is what is useful.
        last = (-in_steps(min(reserve, 1.0), THIRD), *glass)
    return (not as_meant(setup, one), in_steps(one.drawbacks, THIRD), keeps, one.verdict != "holds", *last)


def t_still(setup: SetUp) -> float | None:
    """The time that keeps the subject still, in stops."""
    speed, focal = setup.scene.subject_speed_m_s, setup.lens.focal_mm
    if not speed:
        return None
    coc = hypot(*setup.camera.sensor_mm) / 1500
    return -log2(coc * (setup.scene.subject_distance_m * 1000 - focal) / (focal * speed * 1000))


def hand(setup: SetUp) -> float | None:
    """The hand's time, in stops."""
    if setup.camera.support == "tripod":
        return None
    return log2(setup.lens.focal_mm * 43.27 / hypot(*setup.camera.sensor_mm))


def drawback_stops(setup: SetUp, row: Row, judged: Judgement, hss: bool) -> tuple[float, float]:
    """Movement, and the hand: what the set-ups that are compared give a figure of."""
    _, av, tv, sv, nd = row
    limit, still = hand(setup), t_still(setup)
    smears, shakes = 0.0, 0.0
    if limit is not None and tv < limit - EPS:
        shakes = limit - tv
    if still is not None and tv < still - EPS:
        ambient = setup.scene.subject - av - tv + sv - nd
        on_subject = [
            (light, judged.downs[index])
            for index, light in enumerate(setup.lights)
            if light.role in ("key", "fill") and index in judged.downs
        ]
        frozen = (
            not hss
            and bool(on_subject)
            and all(light.flash_pulse.t01_s(2**-down) <= 2**-still + EPS for light, down in on_subject)
            and ambient <= judged.subject - 3 + EPS
            and judged.error + setup.intent.background_level <= -2 + EPS
        )
        smears = 0.0 if frozen else still - tv
    return smears, shakes


def answer(setup: SetUp, way: str) -> Answer:
    """One way, worked out by trying everything."""
    camera, wanted = setup.camera, setup.wanted_aperture.stops
    sync, low, half = camera.sync.stops, camera.iso_low.stops, setup.dial_step / 2
    wall: Row = (0, wanted, sync, low, 0.0)
    over = setup.scene.background - (wanted + sync - low) - setup.intent.background_level
    past_wall, still = over > max(THIRD, half) + SLACK, t_still(setup)
    moving = still is not None and still > sync + EPS
    needed = way == "within_sync" or past_wall or (way == "hss" and moving)
    means = False
    rows = list(offered(setup, way, past_wall, moving))
    if not rows:
        rows, means = [wall], True
    judged = [(row, judge(setup, row)) for row in rows]
    if way == "within_sync":
        judged = iso_first(setup, judged)
    elif way == "hss" and moving and not means:
        judged = fast_enough(setup, judged, min(still or 0.0, camera.fastest.stops))
    row, best = choose(setup, judged)
    verdict = "not_needed" if not needed else "short" if means else best.verdict
    found = Answer(way, verdict, row, best.miss, best.reserve, means, judged=best)
    found.smears, shakes = drawback_stops(setup, row, best, row[2] > sync + EPS)
    found.drawbacks = found.smears + shakes
    return found


def offered(setup: SetUp, way: str, past_wall: bool, moving: bool) -> Iterator[Row]:
    """Every setting that a way may use."""
    camera, wanted = setup.camera, setup.wanted_aperture.stops
    sync, low = camera.sync.stops, camera.iso_low.stops
    smaller = [step.stops for step in setup.apertures if step.stops > wanted + EPS]
    times = [step.stops for step in camera.shutters.steps]
    within = [tv for tv in times if camera.slowest.stops - EPS <= tv <= sync + EPS]
    past = [tv for tv in times if sync + EPS < tv <= camera.fastest.stops + EPS]
    isos = [k / 3 for k in range(round(3 * low), round(3 * camera.iso_high.stops) + 1)]
    if way == "within_sync":
        yield from ((0, wanted, tv, sv, 0.0) for sv in isos for tv in within)
    elif way == "stop_down":
        yield from ((0, av, sync, low, 0.0) for av in smaller)
    elif way in ("nd", "mixed"):
        apertures = [wanted] if way == "nd" else smaller
        bag = stacks(setup)
        yield from ((n, av, tv, low, nd) for av in apertures for n, nd in bag for tv in within)
    elif not past_wall and not moving:
        yield from ((0, wanted, tv, low, 0.0) for tv in past[:1])
    else:
        fastest = camera.fastest.stops
        daylight = setup.scene.background - (wanted + fastest - low) - setup.intent.background_level
        if past and daylight > THIRD:
            everything = [(0, 0.0), *stacks(setup)]
            yield from ((n, av, fastest, low, nd) for av in [wanted, *smaller] for n, nd in everything)
        else:
            yield from ((0, wanted, tv, sv, 0.0) for sv in (isos if moving else [low]) for tv in past)


Judged = list[tuple[Row, Judgement]]


def iso_first(setup: SetUp, judged: Judged) -> Judged:
    """The settings within sync that are left once ISO is decided."""
    camera, half = setup.camera, setup.dial_step / 2
    asked = [tv for tv in (hand(setup), t_still(setup)) if tv is not None]
    slowest = min(max(asked, default=camera.slowest.stops), camera.sync.stops)
    by_iso: dict[float, Judged] = {}
    for row, found in judged:
        by_iso.setdefault(row[3], []).append((row, found))
    low = min(by_iso)

    def dim(found: Judgement) -> bool:
        return found.error <= half + SLACK

    def gentle(found: Judgement) -> bool:
        return dim(found) and all(strong <= THIRD + SLACK for strong in found.strong.values())

    highest = max((iso for iso, rows in by_iso.items() if any(gentle(j) for _, j in rows)), default=low)
    allowed = [
        iso
        for iso, rows in sorted(by_iso.items())
        if iso == low or (iso <= highest and any(dim(found) for _, found in rows))
    ]

    def fast(iso: float) -> Judged:
        return [(row, found) for row, found in by_iso[iso] if row[2] >= slowest - EPS]

    def fits(found: Judgement) -> bool:
        return found.counted <= half + SLACK

    fitting = [iso for iso in allowed if any(fits(j) for _, j in fast(iso))]
    rises_to = min(fitting) if fitting else max(allowed)
    if rises_to > low and not any(half_daylight(setup, found) for _, found in fast(rises_to)):
        # Spill is most of the background's light: ISO rises for the lights alone.
        free = [iso for iso in allowed if any(not j.is_short for _, j in fast(iso))]
        iso = min(free) if free else max(allowed)
    else:
        free = [iso for iso in allowed if any(fits(j) and not j.is_short for _, j in fast(iso))]
        iso = min(free) if free else max(fitting or allowed)
    limit = max(THIRD, half) + SLACK
    too_dark = all(j.error < 0 and j.counted > limit for _, j in fast(iso))
    return by_iso[iso] if too_dark else fast(iso)


def half_daylight(setup: SetUp, found: Judgement) -> bool:
    """Whether daylight gives at least half of the background's light."""
    level = found.error + setup.intent.background_level
    return float(2**found.ambient) >= float(2**level) / 2 * (1 - EPS)


def fast_enough(setup: SetUp, judged: Judged, target: float) -> Judged:
    """The settings in high-speed sync that are left for a subject that moves."""
    half = setup.dial_step / 2 + SLACK
    isos = sorted({row[3] for row, _ in judged})

    def short_enough(iso: float) -> Judged:
        return [(row, found) for row, found in judged if row[3] == iso and row[2] >= target - EPS]

    def reaches(rows: Judged) -> bool:
        return any(found.error > 0 or found.counted <= half for _, found in rows)

    highest = [one for one in judged if one[0][3] == isos[-1]]
    rows = next((short_enough(iso) for iso in isos if reaches(short_enough(iso))), highest)
    raised = rows[0][0][3] > isos[0]
    if raised and not any(half_daylight(setup, found) for _, found in rows):
        return short_enough(isos[0])
    return rows


def choose(setup: SetUp, judged: Judged) -> tuple[Row, Judgement]:
    """The best of them by the rules."""
    wanted = setup.wanted_aperture.stops

    def off(row: Row) -> float:
        return round(abs(row[1] - wanted), 9)

    def reserve(found: Judgement) -> float:
        return 3.0 if found.reserve is None else found.reserve

    holding = [one for one in judged if one[1].verdict == "holds"]
    if holding:
        most = max(min(reserve(found), 3.0) for _, found in holding)
        near = [one for one in holding if min(reserve(one[1]), 3.0) >= most - setup.dial_step - EPS]
        dark = setup.intent.background_level <= -4
        return min(
            near,
            key=lambda one: (off(one[0]), round(one[1].counted, 9), -one[0][2] if dark else 0, one[0][0]),
        )
    just = [one for one in judged if one[1].verdict == "just"]
    return min(
        just or judged,
        key=lambda one: (
            in_steps(one[1].weighed, 0.05),
            off(one[0]),
            round(one[1].counted, 9),
            -round(reserve(one[1]), 9),
        ),
    )
