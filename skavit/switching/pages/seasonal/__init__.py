"""Sets of entries keyed with the seasons."""
