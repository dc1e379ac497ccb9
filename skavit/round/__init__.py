"""Pages that list sites and units: the round, a site, the search."""
