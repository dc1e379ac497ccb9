"""A unit as it was found."""
