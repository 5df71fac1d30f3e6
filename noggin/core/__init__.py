"""The craft: pure functions and frozen value objects. No web, no database, no clock, no files."""
