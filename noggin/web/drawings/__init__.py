"""Drawings computed from core values: geometry here, SVG in `templates/drawings/`."""

from noggin.web.drawings.above import above
from noggin.web.drawings.distances import distance_axis, distance_bar
from noggin.web.drawings.fall import fall
from noggin.web.drawings.gauges import blur_gauge, focus_gauge, reserve_gauge
from noggin.web.drawings.scale import scale
from noggin.web.drawings.sketch import sketch
from noggin.web.drawings.strip import axis_of, strip, track
from noggin.web.drawings.trust import beside, trust

__all__ = [
    "above",
    "axis_of",
    "beside",
    "blur_gauge",
    "distance_axis",
    "distance_bar",
    "fall",
    "focus_gauge",
    "reserve_gauge",
    "scale",
    "sketch",
    "strip",
    "track",
    "trust",
]
