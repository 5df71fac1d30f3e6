"""Where everything stands, and what follows from it."""
