"""Units that hold temperatures: their page, and what is done on it."""
