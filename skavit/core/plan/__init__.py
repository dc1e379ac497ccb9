"""The words of the plan file, each a frozen dataclass that reads itself strictly and writes itself back."""
