"""Adding a unit."""
