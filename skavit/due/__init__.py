"""What is due: which units need a visit, by when, and who goes."""
