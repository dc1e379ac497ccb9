"""Slow requests: the worker answers them while the page shows how far it is."""
