"""A second solver that knows nothing of the first: every dial position tried, in plain formulas.

Written from the description of the plan document alone; slow and simple, for tests to compare with.
"""

from itertools import combinations, product
from math import log2

from noggin.core.setup.light import Light
from noggin.core.setup.setup import SetUp

EPS = 1e-6
ROLE_LEVELS = {"key": 0.0, "fill": -1.5, "rim": 0.5, "background": 0.0}


def stacks(setup: SetUp) -> list[tuple[int, float]]:
    """Every (number of filters, stops) that one or two filters of the bag can be set to."""

    def turns(least: float, most: float) -> list[float]:
        return [least + k / 6 for k in range(200) if least + k / 6 <= most + EPS]

    found = [(1, stops) for item in setup.filters for stops in turns(item.least, item.most)]
    for first, second in combinations(setup.filters, 2):
        # Two that are turned, by their span or as a polariser, never go together.
        if not all(item.polariser or item.most > item.least for item in (first, second)):
            strengths = turns(first.least, first.most), turns(second.least, second.most)
            found += [(2, x + y) for x, y in product(*strengths)]
    return found


def full_level(setup: SetUp, light: Light, av: float, tv: float, sv: float, nd: float) -> float | None:
    """A light's level at full power; None past sync where it cannot do high-speed sync."""
    level = 2 * log2(light.gn_m / light.distance_m) + log2(light.count) - light.loss
    level -= {None: 0.0, "quarter_cto": 0.3, "full_cto": 0.85}[light.gel]
    level -= log2(1 + (light.radius_m / light.distance_m) ** 2)
    level += sv - av - nd
    past = tv - setup.camera.sync.stops
    if past > EPS:
        if light.hss_toll is None or not setup.camera.hss:
            return None
        level -= light.hss_toll + past
    elif light.pulse:
        level += log2(caught(setup, light, tv))
    return level


def caught(setup: SetUp, light: Light, tv: float) -> float:
    """Share of a full exponential pulse that the middle of the frame sees."""
    open_s = 2**-tv
    if setup.camera.shutter == "focal_plane":
        open_s -= 0.85 * 2**-setup.camera.sync.stops / 2
    return 1 - 0.5 ** (open_s / light.pulse.t05_s)


def dialled(setup: SetUp, light: Light, tv: float, reserve: float) -> float:
    """By how much a light is off when it is dialled down by its reserve, in its own steps."""
    spare = 0.0
    if light.pulse and light.pulse.head == "cut" and tv <= setup.camera.sync.stops + EPS:
        spare = -log2(caught(setup, light, tv))
    steps = -(-((reserve + spare) / light.power_step - 0.5 - 1e-9) // 1)
    down = min(max(steps * light.power_step, 0), -log2(light.power_min))
    return min(reserve + spare - down, reserve)


def needs(setup: SetUp, ambient: float) -> dict[str, float | None]:
    """The level each role needs over the key's, and the key's own under 'key'."""
    intent = setup.intent
    if intent.school == "match":
        total = intent.subject_level
    elif intent.school == "share":
        total = ambient + log2(intent.share / (1 - intent.share))
    elif ambient >= intent.subject_level - 1e-9:
        total = None
    else:
        total = log2(2**intent.subject_level - 2**ambient)
    both = sum(2 ** ROLE_LEVELS[light.role] for light in setup.lights if light.role in ("key", "fill"))
    key = None if total is None else total - log2(both)
    return {
        "key": key,
        "fill": None if key is None else key - 1.5,
        "rim": (intent.subject_level if key is None else key) + 0.5,
        "background": intent.subject_level if key is None else key,
    }


def judge(setup: SetUp, av: float, tv: float, sv: float, nd: float) -> tuple[bool, float, float]:
    """Whether these settings are feasible, the key's reserve (none counts as 3), background error."""
    ev = av + tv - sv
    error = setup.scene.background - ev - nd - setup.intent.background_level
    ok = abs(error) <= setup.dial_step / 2 + EPS
    need = needs(setup, setup.scene.subject - ev - nd)
    key_reserve = 3.0
    for light in setup.lights:
        full, wanted = full_level(setup, light, av, tv, sv, nd), need[light.role]
        if full is None:
            ok = False
            continue
        if wanted is None:
            continue
        reserve = full - wanted
        ok &= reserve >= -EPS and abs(dialled(setup, light, tv, reserve)) <= 1 / 3 + EPS
        if light.role == "key":
            key_reserve = min(reserve, 3.0)
    return ok, key_reserve, error


Choice = tuple[float, float, float, int]
"""Reserve (at most 3), stops of aperture and of background off what is meant, number of filters."""


def best(setup: SetUp, way: str) -> Choice | None:
    """What the rules choose among every feasible setting of a way; None where there are none."""
    sv = setup.camera.iso_low.stops
    return chosen(setup, [(count, av, tv, sv, nd) for count, av, tv, nd in offered(setup, way)])


def best_within_sync(setup: SetUp) -> Choice | None:
    """The same within sync, where ISO rises only until some time fits and no light is short."""
    camera, wanted = setup.camera, setup.wanted_aperture.stops
    found: list[tuple[int, float, float, float, float]] = []
    for iso in range(round(3 * camera.iso_low.stops), round(3 * camera.iso_high.stops) + 1):
        rows = [(0, wanted, tv, iso / 3, 0.0) for tv in within(setup)]
        found += rows
        fits = [row for row in rows if abs(judge(setup, *row[1:])[2]) <= setup.dial_step / 2 + EPS]
        if any(not short(setup, *row[1:]) for row in fits):
            break
    return chosen(setup, found)


def chosen(setup: SetUp, rows: list[tuple[int, float, float, float, float]]) -> Choice | None:
    """The best of (filters, aperture, time, ISO, strength)."""
    found = []
    for count, av, tv, sv, nd in rows:
        ok, reserve, error = judge(setup, av, tv, sv, nd)
        if ok:
            miss = round(abs(av - setup.wanted_aperture.stops), 6)
            found.append((reserve, miss, round(abs(error), 6), count))
    if not found:
        return None
    most = max(reserve for reserve, *_ in found)
    close = [choice for choice in found if choice[0] >= most - setup.dial_step - EPS]
    return min(close, key=lambda choice: choice[1:])


def short(setup: SetUp, av: float, tv: float, sv: float, nd: float) -> bool:
    """Whether any light gives too little at full power."""
    need = needs(setup, setup.scene.subject - (av + tv - sv) - nd)
    for light in setup.lights:
        full, wanted = full_level(setup, light, av, tv, sv, nd), need[light.role]
        if full is not None and wanted is not None and full - wanted < -EPS:
            return True
    return False


def within(setup: SetUp) -> list[float]:
    """Every time from the slowest wanted to sync."""
    camera = setup.camera
    low, high = camera.slowest.stops - EPS, camera.sync.stops + EPS
    return [step.stops for step in camera.shutters.steps if low <= step.stops <= high]


def offered(setup: SetUp, way: str) -> list[tuple[int, float, float, float]]:
    """Number of filters, aperture, time and filter strength: every setting a way may use."""
    camera, wanted = setup.camera, setup.wanted_aperture.stops
    sv, sync = camera.iso_low.stops, camera.sync.stops
    smaller = [step.stops for step in setup.apertures if step.stops > wanted + EPS]
    times = [step.stops for step in camera.shutters.steps]
    past = [tv for tv in times if sync + EPS < tv <= camera.fastest.stops + EPS]
    half = setup.dial_step / 2 + EPS
    if setup.scene.background - (wanted + sync - sv) - setup.intent.background_level <= half:
        return []  # nothing to take away
    if way == "stop_down":
        return [(0, av, sync, 0.0) for av in smaller]
    if way in ("nd", "mixed"):
        apertures = [wanted] if way == "nd" else smaller
        bag = stacks(setup)
        return [(count, av, tv, nd) for av in apertures for tv in within(setup) for count, nd in bag]
    found = [(0, wanted, tv, 0.0) for tv in past]
    if past and judge(setup, wanted, past[-1], sv, 0.0)[2] > half:
        found += [(0, av, past[-1], 0.0) for av in smaller]
    return found
