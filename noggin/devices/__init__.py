"""Meters and lights as interfaces, each with the simulated one that ships."""
