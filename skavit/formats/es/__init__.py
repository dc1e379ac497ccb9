"""Spanish."""
