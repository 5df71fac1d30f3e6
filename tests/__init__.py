"""Tests mirror the package. Random cases are the same in every run; NOGGIN_EXPLORE=N tries N new ones."""

import os

from hypothesis import settings

settings.register_profile("steady", max_examples=200, derandomize=True, deadline=None, database=None)
settings.register_profile(
    "explore", max_examples=int(os.environ.get("NOGGIN_EXPLORE", "100")), deadline=None, database=None
)
settings.load_profile("explore" if "NOGGIN_EXPLORE" in os.environ else "steady")
