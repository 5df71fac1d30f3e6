"""Use cases, one function each. Store, clock and devices are passed in."""
