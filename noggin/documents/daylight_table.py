"""The light document, `noggin-light` version 1: one day's daylight at one place."""

from datetime import datetime
from typing import Literal

from pydantic import BaseModel, ConfigDict

from noggin.core.daylight.place import Place
from noggin.core.daylight.sky import Daylight


class LightPart(BaseModel):
    """A part of the document; every number in full precision."""

    model_config = ConfigDict(extra="forbid")


class LightPlaceDocument(LightPart):
    lat: float
    lon: float
    date: str
    tz: str
    sky: str
    ground: str
    facing_deg: float | None


class SidesDocument(LightPart):
    sunlit: float
    shaded: float
    sky: float


class RowDocument(LightPart):
    time: datetime
    sun_height_deg: float
    sun_azimuth_deg: float
    ev100: SidesDocument
    uncertainty: float


class LightOfDay(LightPart):
    """Daylight of one local day, a row for every quarter-hour or as often as was asked."""

    model_config = ConfigDict(title="noggin-light, version 1")

    format: Literal["noggin-light"] = "noggin-light"
    version: Literal[1] = 1
    place: LightPlaceDocument
    rows: list[RowDocument]


def light_of_day(place: Place, date: str, tz: str, rows: tuple[Daylight, ...]) -> LightOfDay:
    """The document of a day's table."""
    return LightOfDay(
        place=LightPlaceDocument(
            lat=place.lat,
            lon=place.lon,
            date=date,
            tz=tz,
            sky=place.sky,
            ground=place.ground,
            facing_deg=place.facing_deg,
        ),
        rows=[
            RowDocument(
                time=row.time,
                sun_height_deg=row.sun.height_deg,
                sun_azimuth_deg=row.sun.azimuth_deg,
                ev100=SidesDocument(sunlit=row.sunlit, shaded=row.shaded, sky=row.sky),
                uncertainty=row.uncertainty,
            )
            for row in rows
        ],
    )
