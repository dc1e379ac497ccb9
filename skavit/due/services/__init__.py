"""What changes what is due."""
