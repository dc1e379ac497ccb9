"""Skavit: planner, simulator and logbook for time switches and their kin."""
