"""The week in which a unit waters most."""
