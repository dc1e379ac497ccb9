"""The unit's page: its year, its findings, what is wanted and what is keyed in."""
