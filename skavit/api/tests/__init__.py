"""Tests of what other programs read."""
