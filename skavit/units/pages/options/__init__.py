"""Other ways to fit."""
