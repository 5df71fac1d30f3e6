"""The proof: a picture computed from a plan's levels, with light from where it stands."""
