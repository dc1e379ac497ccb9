"""Commands of what is due."""
