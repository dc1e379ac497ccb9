"""The page of a load, and its form."""
