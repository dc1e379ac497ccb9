"""A visit while it is written down, and as it was."""
