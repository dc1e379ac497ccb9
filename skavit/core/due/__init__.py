"""What needs somebody at a unit, and by when."""
