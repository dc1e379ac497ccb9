"""What the year uses beside other ways of watering."""
