"""The read API: JSON for other programs, by a key of the crew."""
