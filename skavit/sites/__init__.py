"""Sites: places with coordinates and a time zone."""
