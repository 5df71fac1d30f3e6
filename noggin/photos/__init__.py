"""Files of frames: what was dialled, by their EXIF, and the tones in them, in stops. Files are only ever
read."""
