"""Heating: target temperatures of zones, rooms that must reach them, and the hot water store."""
