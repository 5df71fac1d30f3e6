"""Practice: drills given, answered and scheduled."""
