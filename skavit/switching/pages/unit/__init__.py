"""What the page of a unit shows where it switches: channels, windows and slots."""
