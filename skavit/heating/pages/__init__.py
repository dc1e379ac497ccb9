"""The pages of units that hold temperatures."""
