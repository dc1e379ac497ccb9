"""The unit itself: its kind, clock, memory and sun."""
