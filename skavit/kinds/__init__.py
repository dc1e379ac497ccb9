"""The library of kinds: those that ship, and a crew's own, adjusted to a manual."""
