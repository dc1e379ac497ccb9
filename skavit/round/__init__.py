"""Pages that gather sites and units: the round, a site, and finding."""
