"""Open formats: calendars to subscribe to, tables, and sites and units from a table."""
