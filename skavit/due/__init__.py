"""What is due: which units need somebody, by when, and who goes."""
