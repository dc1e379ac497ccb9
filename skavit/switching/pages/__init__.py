"""Pages of units that switch."""
