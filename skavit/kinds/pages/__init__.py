"""Pages of the library of kinds."""
