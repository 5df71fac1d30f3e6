"""How long planning one set-up takes, and its remedies, as ratios to pydantic's validation of the same
document.

All are timed in one run, in turns, so that a busy machine slows them alike. Run: make benchmark
"""

from copy import deepcopy
from statistics import median
from time import perf_counter_ns
from typing import Any

from noggin.core.advice.remedies import remedies
from noggin.core.advice.remedy_case import planned
from noggin.core.planning.plan import plan
from noggin.demo import demo_documents
from noggin.documents.setup import SetUpDocument, core_setup

ROUNDS = 100


def crowded(weak: bool, lights: int = 4) -> dict[str, Any]:
    """The first of the demo with so many lights (past the fourth they fill) and three filters; with weak
    lights every way is short."""
    found: Any = deepcopy(demo_documents()[0])
    found["scene"].pop("plan", None)
    key = found["lights"][0] | ({"gn_m": 24, "loss": 1.5} if weak else {})
    roles = ["key", "fill", "rim", "background", *["fill"] * 8]
    found["lights"] = [
        {**key, "role": role, "name": f"{role} {place}"} for place, role in enumerate(roles[:lights])
    ]
    found["filters"] = [
        {"name": "3", "stops": 3},
        {"name": "6", "stops": 6},
        {"name": "2–5", "stops": [2, 5]},
    ]
    found["name"] = f"four lights, three filters{', all short' if weak else ''}"
    return found


def main() -> None:
    """Print one line for each set-up."""
    heads = f"{'plan':>10}{'ratio':>8}{'remedies':>11}{'ratio':>8}"
    print(f"{'set-up':<44}{'validate':>10}{heads}")
    for found in (*demo_documents(), crowded(weak=False), crowded(weak=True)):
        setup = core_setup(SetUpDocument.model_validate(found))
        validating, planning, remedying = [], [], []
        for _ in range(ROUNDS):
            planned.cache_clear()
            start = perf_counter_ns()
            SetUpDocument.model_validate(found)
            checked = perf_counter_ns()
            worked_out = plan(setup)
            done = perf_counter_ns()
            remedies(worked_out)
            end = perf_counter_ns()
            validating.append(checked - start)
            planning.append(done - checked)
            remedying.append(end - done)
        validate_us, plan_us, remedy_us = (
            median(times) / 1000 for times in (validating, planning, remedying)
        )
        print(
            f"{setup.name:<44}{validate_us:>7.0f} µs"
            f"{plan_us:>7.0f} µs{plan_us / validate_us:>8.1f}"
            f"{remedy_us:>8.0f} µs{remedy_us / validate_us:>8.1f}"
        )


if __name__ == "__main__":
    main()
