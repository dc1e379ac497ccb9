"""Somebody at a unit: what is wrong with it, visits, and what stands in it since."""
