"""Where the sun stands, and when it rises and sets at a place."""
