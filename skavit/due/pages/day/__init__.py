"""A day in the van."""
