"""A year that the controller has built in."""
