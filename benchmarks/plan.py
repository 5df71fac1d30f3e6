"""How long planning one set-up takes, as a ratio to pydantic's validation of the same document.

Both are timed in one run, in turns, so that a busy machine slows both. Run: make benchmark
"""

from statistics import median
from time import perf_counter_ns

from noggin.core.ways import plan
from noggin.demo import demo_documents
from noggin.documents.setup import SetUpDocument, core_setup

ROUNDS = 300


def main() -> None:
    """Print one line for each of the demo's set-ups."""
    print(f"{'set-up':<38}{'validate':>10}{'plan':>10}{'ratio':>8}")
    for found in demo_documents():
        setup = core_setup(SetUpDocument.model_validate(found))
        validating, planning = [], []
        for _ in range(ROUNDS):
            start = perf_counter_ns()
            SetUpDocument.model_validate(found)
            middle = perf_counter_ns()
            plan(setup)
            end = perf_counter_ns()
            validating.append(middle - start)
            planning.append(end - middle)
        validate_us, plan_us = median(validating) / 1000, median(planning) / 1000
        print(f"{setup.name:<38}{validate_us:>7.0f} µs{plan_us:>7.0f} µs{plan_us / validate_us:>8.1f}")


if __name__ == "__main__":
    main()
