"""Commands of open formats."""
