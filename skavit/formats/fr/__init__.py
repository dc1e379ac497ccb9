"""French."""
