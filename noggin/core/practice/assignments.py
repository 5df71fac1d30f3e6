"""Drills with a camera in hand: a scene to be set in few frames, or to be kept while the light goes."""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from itertools import pairwise
from random import Random

from noggin.core.errors import Refused
from noggin.core.physics import dials
from noggin.core.physics.dials import DialStep
from noggin.core.physics.filters import NO_FILTER, Stack
from noggin.core.physics.power import power_label
from noggin.core.planning.lighting import Settings
from noggin.core.planning.plan import plan
from noggin.core.planning.verdicts import HOLDS
from noggin.core.planning.way import Way
from noggin.core.pops.frame import Dialled
from noggin.core.pops.judging import NEAR, begun
from noggin.core.practice.scenes import LIGHTS, portrait
from noggin.core.practice.task import chance_of
from noggin.core.setup.setup import SetUp
from noggin.core.units import TOLERANCE, Stops
from noggin.core.wording import number, plain, signed, stops

FRAMES_MOST = 12
"""Frames after which a search is over."""

PAR = 3
"""A search within so many frames is a good one: a first frame, and one for each of face and background."""

SINKS: Stops = 2 / 3
"""What daylight loses from one moment to the next where the sun goes down: some ten minutes at the end."""

MOMENTS = 4
"""Moments at which a picture is to be kept."""

SUNK = tuple(SINKS * (1 + moment) for moment in range(MOMENTS))
"""What daylight has lost at each of them."""

Frame = tuple[int, ...]
"""What is dialled, as places on the dials of an assignment."""


@dataclass(frozen=True)
class PracticeDial:
    """A dial: its key, what it is called, and its labels."""

    key: str
    label: str
    steps: tuple[str, ...]


@dataclass(frozen=True)
class Fired:
    """One frame: what was dialled, by how much background and face were over what was meant, and whether
    the aperture is as it was asked for."""

    dialled: Dialled
    background: Stops
    face: Stops
    as_asked: bool = True

    @property
    def right(self) -> bool:
        """Whether both are within a third of a stop, at the aperture that was asked for."""
        return self.as_asked and self.off <= NEAR + TOLERANCE

    @property
    def off(self) -> Stops:
        """By how much the worse of both is off."""
        return max(abs(self.background), abs(self.face))


@dataclass(frozen=True)
class Begun:
    """How an assignment begins: the set-up, what is asked for, where the dials are, by how much daylight
    has sunk at each moment (one moment alone: it stays, and frames are free), and whether any aperture
    will do."""

    setup: SetUp
    asks: str
    start: Dialled
    sunk: tuple[Stops, ...] = (0.0,)
    any_aperture: bool = False


@dataclass(frozen=True)
class Assignment:
    """What is to be done with the camera: the drill and seed that it comes from, how it begins, the beliefs
    that it tells, and which of them a series of frames comes from."""

    drill: str
    seed: int
    begun: Begun
    beliefs: tuple[str, ...]
    told: Callable[["Assignment", Sequence[Fired]], str | None]

    @property
    def setup(self) -> SetUp:
        """Its set-up, as it is metered."""
        return self.begun.setup

    @property
    def start(self) -> Dialled:
        """Where the dials are at first."""
        return self.begun.start

    @property
    def sunk(self) -> tuple[Stops, ...]:
        """By how much daylight has sunk at each moment."""
        return self.begun.sunk

    def as_asked(self, dialled: Dialled) -> bool:
        """Whether the aperture is the one that was asked for."""
        return self.begun.any_aperture or dialled.settings.aperture == self.start.settings.aperture

    @property
    def facts(self) -> tuple[tuple[str, str], ...]:
        """What is known of scene and gear, as labels and figures."""
        scene, key, camera = self.setup.scene, self.setup.key, self.setup.camera
        filters = ", ".join(one.name for one in self.setup.filters)
        return (
            (
                "Metered",
                f"background EV {plain(scene.background)}, face EV {plain(scene.subject)}"
                + ("" if self.follows else "; true to a fraction of a stop"),
            ),
            (
                "Light",
                f"{key.says}, {plain(key.distance_m)} m away, high-speed toll {stops(key.hss_toll or 0.0)}",
            ),
            ("Sync speed", f"{camera.sync.label} s; past it the trigger goes to high-speed sync"),
            ("In the bag", filters),
        )

    @property
    def follows(self) -> bool:
        """Whether the light goes, and each moment has one frame."""
        return len(self.sunk) > 1

    @property
    def frames_most(self) -> int:
        """Frames after which it is over."""
        return len(self.sunk) if self.follows else FRAMES_MOST

    def over(self, fired: Sequence[Fired]) -> bool:
        """Whether nothing is left to do."""
        return len(fired) >= self.frames_most or (not self.follows and bool(fired) and fired[-1].right)

    def passed(self, fired: Sequence[Fired]) -> bool:
        """Whether it was done well: the scene set within PAR frames, or the picture kept all the time."""
        if self.follows:
            return len(fired) == len(self.sunk) and all(one.right for one in fired)
        return bool(fired) and fired[-1].right and len(fired) <= PAR

    @cached_property
    def dials(self) -> tuple[PracticeDial, ...]:
        """Every dial that may be turned."""
        setup, key = self.setup, self.setup.key
        powers = (power_label(down, key.scale, key.full_mark) for down in self._downs)
        return (
            PracticeDial("shutter", "Time", tuple(f"{step.label} s" for step in self._times)),
            PracticeDial("aperture", "Aperture", tuple(f"f/{step.label}" for step in setup.apertures)),
            PracticeDial("iso", "ISO", tuple(step.label for step in self._isos)),
            PracticeDial("filter", "Filter", tuple(one.words or "no filter" for one in self._stacks)),
            PracticeDial("power", "Power", tuple(powers)),
        )

    @cached_property
    def _times(self) -> tuple[DialStep, ...]:
        camera = self.setup.camera
        return camera.shutters.between(camera.slowest.stops, camera.fastest.stops)

    @cached_property
    def _isos(self) -> tuple[DialStep, ...]:
        camera = self.setup.camera
        return dials.iso_dial().between(camera.iso_low.stops, camera.iso_high.stops)

    @cached_property
    def _stacks(self) -> tuple[Stack, ...]:
        stacks = {round(one.stops, 6): one for one in (NO_FILTER, *self.setup.stacks)}
        return tuple(stacks[strength] for strength in sorted(stacks))

    @cached_property
    def _downs(self) -> tuple[Stops, ...]:
        key = self.setup.key
        return tuple(
            index * key.power_step
            for index in range(1 + round(9 / key.power_step))
            if 2.0 ** -(index * key.power_step) >= key.power_min * 0.999
        )

    def dialled(self, frame: Frame) -> Dialled:
        """What a frame's places on the dials come to; past sync the flash is in high-speed sync. Raises
        Refused."""
        if len(frame) != len(self.dials):
            raise Refused("frames", f"a frame has {len(self.dials)} dials, not {len(frame)}")
        for place, dial in zip(frame, self.dials, strict=True):
            if not 0 <= place < len(dial.steps):
                raise Refused("frames", f"{dial.label} has no place {place}")
        time, aperture, iso, stack, power = frame
        settings = Settings(
            self._times[time], self.setup.apertures[aperture], self._isos[iso], self._stacks[stack]
        )
        past = settings.shutter.stops > self.setup.camera.sync.stops + TOLERANCE
        return Dialled(settings, {0: self._downs[power]}, past)

    def followed(self, moment: int) -> Dialled:
        """What keeps the picture at a moment where the light goes: a time as much longer as daylight has
        lost; in high-speed sync, where that brightens the flash too, as much less power."""
        sunk, start = self.sunk[moment], self.start
        time = self.setup.camera.shutters.nearest(start.settings.shutter.stops - sunk)
        weaker = sunk if start.hss else 0.0
        powers = {index: down + weaker for index, down in start.powers.items()}
        return replace(start, settings=replace(start.settings, shutter=time), powers=powers)

    def places(self, dialled: Dialled) -> Frame:
        """Where the dials are for what is dialled, each at its nearest step."""
        settings = dialled.settings
        down = dialled.powers.get(0, self._downs[-1])

        def nearest(steps: Sequence[Stops], wanted: Stops) -> int:
            return min(range(len(steps)), key=lambda place: abs(steps[place] - wanted))

        return (
            nearest([step.stops for step in self._times], settings.shutter.stops),
            nearest([step.stops for step in self.setup.apertures], settings.aperture.stops),
            nearest([step.stops for step in self._isos], settings.iso.stops),
            nearest([stack.stops for stack in self._stacks], settings.stack.stops),
            nearest(self._downs, down),
        )


def _turned(fired: Sequence[Fired]) -> Iterator[tuple[Fired, Stops, Stops, bool]]:
    """From each frame to the next: the frame, by how much time got shorter and power less, and whether both
    were within sync."""
    for before, after in pairwise(fired):
        was, now = before.dialled, after.dialled
        faster = now.settings.shutter.stops - was.settings.shutter.stops
        weaker = now.powers[0] - was.powers[0]
        yield before, faster, weaker, not (was.hss or now.hss)


HELD: Stops = 0.5
"""What a control is turned by without need shows what somebody believes."""


def _search_told(_: Assignment, fired: Sequence[Fired]) -> str | None:
    """The face was right, and more power went along with a shorter time within sync (or less with a longer
    one): who does so believes that time dims the flash. Power that was turned by twice what was off: that
    half power is half a stop."""
    for before, faster, weaker, within in _turned(fired):
        if within and abs(before.face) <= NEAR and abs(faster) >= HELD and -faster * weaker >= HELD**2:
            return "time_dims_flash"
        if abs(before.face) >= 2 / 3 and abs(faster) < TOLERANCE and 1.6 <= weaker / before.face <= 2.4:
            return "half_power"
    return None


def _black_told(_: Assignment, fired: Sequence[Fired]) -> str | None:
    """The last frame fell short at full power in high-speed sync."""
    last = fired[-1]
    return "hss_power" if last.dialled.hss and last.face < -NEAR and last.dialled.powers[0] == 0 else None


def _following_told(_: Assignment, fired: Sequence[Fired]) -> str | None:
    """Within sync the power went along with the time."""
    moved = (abs(weaker) for _, faster, weaker, within in _turned(fired) if within and faster)
    return "time_dims_flash" if max(moved, default=0.0) >= HELD else None


def _past_sync_told(_: Assignment, fired: Sequence[Fired]) -> str | None:
    """In high-speed sync the time got longer, and the power stayed."""
    stayed = (
        abs(weaker) < TOLERANCE and faster <= -HELD
        for _, faster, weaker, within in _turned(fired)
        if not within
    )
    return "iso_daylight" if any(stayed) else None


Made = tuple[SetUp, Way]


def _planned(
    chance: Random,
    kinds: Sequence[str],
    *,
    suits: Callable[[Way], bool],
    lights: Sequence[str] = (*LIGHTS,),
) -> Made:
    """A portrait that can be made as it is meant, by a way that suits."""
    while True:
        setup = portrait(chance, chance.choice(kinds), chance.choice(lights))
        for way in plan(setup).ways:
            if way.verdict == HOLDS and way.lighting.key.down is not None and suits(way):
                return setup, way


FASTEST_SYNC: Stops = 8.0
"""Sync speeds of these cameras are no faster than 1/250 s."""

ROOM_IN_THE_DARK: Stops = 1.2
"""Stops that the light of a black background has to spare, for what is hidden."""


def _with_room(way: Way) -> bool:
    """Whether a light has room for what is hidden."""
    down = way.lighting.key.down or 0.0
    return 1.5 <= down <= 5.0


def _anywhere(setup: SetUp, chance: Random) -> Dialled:
    """What is on the dials from the last picture."""
    shutter = setup.camera.shutters.nearest(chance.choice([5.0, 6.0, 7.0]))
    settings = Settings(shutter, setup.wanted_aperture, dials.iso_dial().nearest(chance.choice([0.0, 2.0])))
    return Dialled(settings, {0: chance.choice([2.0, 3.0, 4.0])}, False)


def _fewest_frames(chance: Random) -> Begun:
    setup, _ = _planned(
        chance, ["late", "dusk", "hall", "cloud"],
        suits=lambda way: way.key == "within_sync" and _with_room(way),
    )  # fmt: skip
    asks = (
        f"Bring the background to {signed(setup.intent.background_level)} and the face to mid-tone, at"
        f" f/{number(setup.intent.aperture)}, in as few frames as you can."
    )
    return Begun(setup, asks, _anywhere(setup, chance))


def _black_background(chance: Random) -> Begun:
    setup, _ = _planned(
        chance, ["shade"], suits=lambda way: (way.reserve or 0.0) >= ROOM_IN_THE_DARK, lights=["large"]
    )
    asks = (
        "Make the background vanish, 5½ stops under mid-tone or darker, with the face at mid-tone, at"
        " any aperture, in as few frames as you can."
    )
    return Begun(setup, asks, _anywhere(setup, chance), any_aperture=True)


def _sinking_sun(chance: Random) -> Begun:
    setup, way = _planned(
        chance,
        ["late", "cloud", "dusk"],
        suits=lambda way: (
            way.key == "within_sync" and _with_room(way) and way.settings.shutter.stops >= 6.6
        ),
    )
    return Begun(setup, _to_follow(setup), begun(setup, way), SUNK)


def _sinking_past_sync(chance: Random) -> Begun:
    setup, way = _planned(
        chance, ["late", "noon", "cloud"],
        suits=lambda way: way.key == "hss" and _with_room(way)
        and way.settings.shutter.stops >= FASTEST_SYNC + (MOMENTS + 0.5) * SINKS,
    )  # fmt: skip
    return Begun(setup, _to_follow(setup), begun(setup, way), SUNK)


def _to_follow(setup: SetUp) -> str:
    return (
        f"The picture is right as it is dialled: background {signed(setup.intent.background_level)},"
        f" face at mid-tone. Now the sun goes: before each frame daylight loses {stops(SINKS)},"
        f" everywhere alike. Keep the picture over {MOMENTS} frames, at the same aperture."
    )


@dataclass(frozen=True)
class CameraDrill:
    """A kind of assignment: its key, what it trains, the beliefs that it tells, how one is made of chance,
    and which belief frames come from."""

    key: str
    label: str
    beliefs: tuple[str, ...]
    make: Callable[[Random], Begun]
    told: Callable[[Assignment, Sequence[Fired]], str | None]

    def assignment(self, seed: int) -> Assignment:
        """The assignment that a seed (0 to SEEDS − 1) gives, the same each time. Raises Refused."""
        return Assignment(self.key, seed, self.make(chance_of(self.key, seed)), self.beliefs, self.told)


CAMERA_DRILLS: dict[str, CameraDrill] = {
    drill.key: drill
    for drill in (
        CameraDrill(
            "fewest_frames",
            "Set a scene in the fewest frames",
            ("time_dims_flash", "half_power"),
            _fewest_frames,
            _search_told,
        ),
        CameraDrill(
            "black_background",
            "An invisible background at noon",
            ("hss_power",),
            _black_background,
            _black_told,
        ),
        CameraDrill(
            "sinking_sun", "Follow a sinking sun", ("time_dims_flash",), _sinking_sun, _following_told
        ),
        CameraDrill(
            "sinking_past_sync",
            "Follow it past sync",
            ("iso_daylight",),
            _sinking_past_sync,
            _past_sync_told,
        ),
    )
}
"""Every drill with a camera, by its key."""
