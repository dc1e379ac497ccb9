"""Measured figures, not timed tests."""
