"""The moment of leaving."""
