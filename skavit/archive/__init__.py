"""What was archived or removed, and how it comes back."""
