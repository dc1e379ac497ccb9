"""Watering: programs as they run, the water that plants need, and the soil's balance."""
