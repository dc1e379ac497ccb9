"""What hangs on the channels: loads, contacts, lamps on their cable, hot water."""
