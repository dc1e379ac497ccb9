"""How people read and type what a plan says: sentences, typed lines, coordinates."""
