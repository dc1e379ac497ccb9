"""Heating: the temperatures that zones will be held at, the rooms that must get there, and the store of hot water."""
