"""German."""
