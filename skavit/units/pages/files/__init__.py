"""Plan files in and out."""
