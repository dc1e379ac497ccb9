"""Pages of loads: contacts, lamps on their cable, hot water."""
