"""Requests that take long to work out: the worker answers them, and whoever asked sees how far it is."""
