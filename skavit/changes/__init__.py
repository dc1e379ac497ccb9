"""Who changed what and when, across a crew."""
