"""Practice: what people believe of flash and daylight, and drills that find out."""
