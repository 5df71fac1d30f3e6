"""Noggin: settings that balance off-camera flash with daylight, computed and explained."""

__version__ = "0.1.0"
