"""The entry sheet."""
