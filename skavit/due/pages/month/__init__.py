"""A month of what is due."""
