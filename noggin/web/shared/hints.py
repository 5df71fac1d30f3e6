"""Words of the craft, and Noggin's own, that explain themselves where they stand: on hover and on tap."""

HINTS = {
    "reserve": "How many stops of flash are left over once the face has what was meant: +1 means that half"
    " the power would do. The ± is what is not known of light and gear.",
    "toll": "The stops of flash that high-speed sync costs at sync speed, because the tube must glow for as"
    " long as the slit passes. Each stop of shorter time costs one more.",
    "share": "How much of the light on the face is flash: 50% is as much flash as daylight, 80% two stops"
    " more.",
    "spill": "Flash that reaches the background: it is counted with the daylight there.",
    "right-with": "From all frames of this take: how sure it is that face and background are within a third"
    " of a stop of what you meant. Below 90% one more look pays.",
    "price": "What a method that works costs besides: light in the finder, movement that smears, depth,"
    " power.",
}
"""What each word means, by its key."""
