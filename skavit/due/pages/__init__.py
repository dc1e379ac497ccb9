"""Pages of what is due."""
