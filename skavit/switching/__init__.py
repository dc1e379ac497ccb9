"""Units that switch outputs by entries."""
