"""Open formats: calendars to subscribe to, CSV tables, sites and units from a table, a crew's archive."""
