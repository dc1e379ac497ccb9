"""What the page of a unit shows where it holds temperatures: zones, set points, the day."""
