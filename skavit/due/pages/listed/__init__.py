"""What is due, by date."""
