"""Who changed what and when, of all that a crew has."""
