"""Noggin: settings that balance off-camera flash with daylight, computed and explained."""

import os

__version__ = "0.1.0"

# Sums here are small, and several processes work beside each other: one thread each. Read when numpy is.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
