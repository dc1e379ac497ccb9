"""The unit's clock and sun beside what they must show."""
