"""Commands of background work."""
