"""Management commands of units."""
