"""What the page of a unit shows where it waters: stations, programs, the year and the night."""
