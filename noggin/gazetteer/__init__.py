"""Towns and time zones of the world, looked up on this machine: no name that is typed leaves it."""
