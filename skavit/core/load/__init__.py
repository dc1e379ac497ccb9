"""What hangs on the contacts: lamps on their cable and transformer, contacts and their ratings, and which contact a load needs."""
