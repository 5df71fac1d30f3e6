"""Noggin in a browser alone: the same pages, worked out by Python on the phone itself."""
