"""Drawings computed from core values: geometry here, SVG in `templates/drawings/`."""

from noggin.web.drawings.above import above
from noggin.web.drawings.carry import carry_chart
from noggin.web.drawings.distances import distance_axis, distance_bar
from noggin.web.drawings.fall import fall
from noggin.web.drawings.gauges import blur_gauge, focus_gauge, reserve_gauge
from noggin.web.drawings.histogram import histogram
from noggin.web.drawings.layout import from_above, from_side
from noggin.web.drawings.offsets import offsets
from noggin.web.drawings.scale import LEGEND, scale, scale_of, seen_scale
from noggin.web.drawings.shutter import shutter
from noggin.web.drawings.strip import axis_of, bands, hours, strip, track
from noggin.web.drawings.uncertainty import beside, whisker

__all__ = [
    "LEGEND",
    "above",
    "axis_of",
    "bands",
    "beside",
    "blur_gauge",
    "carry_chart",
    "distance_axis",
    "distance_bar",
    "fall",
    "focus_gauge",
    "from_above",
    "from_side",
    "histogram",
    "hours",
    "offsets",
    "reserve_gauge",
    "scale",
    "scale_of",
    "seen_scale",
    "shutter",
    "strip",
    "track",
    "whisker",
]
