"""Noggin on the phone itself, as far as it runs without a browser."""
