"""What the pages of watering units show, and their forms."""
