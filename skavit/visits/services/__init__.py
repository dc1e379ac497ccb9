"""What changes visits."""
