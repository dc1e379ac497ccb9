"""Watering: the programs as they will run, the water that the plants need, and what the soil holds of it."""
