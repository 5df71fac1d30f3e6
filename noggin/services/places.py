"""Places by name, as they are suggested while one types."""

from noggin.gazetteer.towns import suggested

__all__ = ["places_called"]


def places_called(text: str) -> tuple[str, ...]:
    """Towns by what is typed of their name, each as it is understood when it is typed whole."""
    return tuple(dict.fromkeys(town.label for town in suggested(text)))
