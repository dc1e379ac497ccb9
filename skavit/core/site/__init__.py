"""Clocks and sun, at a place and in a unit: what a clock shows, and when the sun times fall."""
