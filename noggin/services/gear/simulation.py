"""Readings of made-up gear, by the simulated meter and camera: to try a sheet without gear."""

from dataclasses import replace
from math import log2
from random import Random

from noggin.core.gear.parse_readings import show_readings
from noggin.core.typed.parse_quantities import read_shutter
from noggin.core.wording import number, plain
from noggin.devices.camera import CameraDevice, HiddenBody, HiddenGlass, SimulatedCamera
from noggin.devices.meter import HiddenLight, MeterDevice, SimulatedMeter
from noggin.services.gear.measuring import Filled, number_of
from noggin.services.keeping.kept import KeptItem

SIMULATED = "simulated"
"""What takes the place of a meter when the readings were made up."""


def simulated(item: KeptItem, sheet: Filled, rng: Random) -> Filled:
    """The sheet with readings of made-up gear near what is believed of this item, by the simulated meter
    and camera, with 0.1 stop of noise."""
    readings = _SIMULATED[sheet.key](item, sheet, rng)
    return replace(sheet, readings=readings, taken_with=SIMULATED)


def _hidden(item: KeptItem, sheet: Filled, rng: Random) -> HiddenLight:
    document = item.document
    index = next(
        (
            index
            for index, reflector in enumerate(document["reflectors"])
            if reflector["name"] == sheet.about
        ),
        0,
    )
    toll = document["hss_toll"]["value"] if document["hss_toll"] else 1.5
    gn = document["reflectors"][index]["gn_m"]["value"] * 2 ** (rng.gauss(-0.3, 0.4) / 2)
    return HiddenLight(gn, 0.0, toll + rng.gauss(0, 0.2), 0.0, read_shutter(sheet.sync))


def _sim_guide_number(item: KeptItem, sheet: Filled, rng: Random) -> str:
    meter: MeterDevice = SimulatedMeter(_hidden(item, sheet, rng), 0.1, rng)
    taken = [meter.read(distance, 1.0) for distance in (1.5, 2.5, 4.0)]
    if item.document["hss_toll"]:
        taken += [meter.read(2.0, 1.0, time) for time in (1 / 500, 1 / 2000)]
    return show_readings(taken)


def _sim_toll(item: KeptItem, sheet: Filled, rng: Random) -> str:
    meter: MeterDevice = SimulatedMeter(_hidden(item, sheet, rng), 0.1, rng)
    times = (None, None, 1 / 250, 1 / 500, 1 / 1000, 1 / 4000)
    return show_readings([meter.read(2.0, 1.0, time) for time in times])


def _sim_scale(item: KeptItem, sheet: Filled, rng: Random) -> str:
    meter: MeterDevice = SimulatedMeter(_hidden(item, sheet, rng), 0.08, rng)
    least = number_of(item.document["power_min"])
    lines = []
    for down in range(round(-log2(least)) + 1):
        reading = meter.read(1.0, 2.0**-down)
        lines.append(f"1/{2**down}, f/{number(reading.f_number, 2)}")
    return "\n".join(lines)


def _sim_modifier(item: KeptItem, _: Filled, rng: Random) -> str:
    loss, radius = item.document["loss"]["value"] + rng.gauss(0, 0.25), item.document["across_m"] / 2
    bare: MeterDevice = SimulatedMeter(HiddenLight(56, 0, 0, 0, 1 / 200), 0.1, rng)
    through: MeterDevice = SimulatedMeter(
        HiddenLight(56 * 2 ** (-loss / 2), radius, 0, 0, 1 / 200), 0.1, rng
    )
    pairs = (("without", bare), ("without", bare), ("with", through), ("with", through))
    return "\n".join(f"{label}: {show_readings([meter.read(2.0, 1.0)])}" for label, meter in pairs)


def _sim_filter(item: KeptItem, _: Filled, rng: Random) -> str:
    camera: CameraDevice = SimulatedCamera(HiddenBody(1 / 240), 0.1, rng)
    mired = rng.gauss(0, 20)
    ends = item.document["stops"]
    glasses = (
        [("with", ends[0])]
        if item.document["type"] != "variable"
        else [("least", ends[0]), ("most", ends[1])]
    )
    lines = []
    for label, marked in (("without", None), *glasses):
        glass = None if marked is None else HiddenGlass(marked + rng.gauss(0.1, 0.2), mired)
        for _again in range(2):
            ev, kelvin = camera.card(glass)
            lines.append(f"{label}: EV {plain(ev).replace('−', '-')}, {round(kelvin, -1):.0f} K")
    return "\n".join(lines)


def _sim_sync(item: KeptItem, _: Filled, rng: Random) -> str:
    sync = number_of(item.document["sync_s"]["value"])
    camera: CameraDevice = SimulatedCamera(HiddenBody(sync * rng.uniform(0.8, 0.95)), 0.1, rng)
    times = [sync * 2 ** (-thirds / 3) for thirds in range(-2, 6)]
    return "\n".join(f"1/{round(1 / time)}: {camera.lit(time):.0f}%" for time in times)


_SIMULATED = {
    "guide_number": _sim_guide_number,
    "toll": _sim_toll,
    "power_scale": _sim_scale,
    "modifier_loss": _sim_modifier,
    "filter": _sim_filter,
    "sync_speed": _sim_sync,
}
