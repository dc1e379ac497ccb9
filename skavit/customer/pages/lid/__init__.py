"""The label for the lid of a cabinet."""
