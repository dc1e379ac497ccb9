"""Clocks and sun at a site and in a unit: what a clock shows, and when sunrise and sunset fall."""
