"""Adjusting one of the crew's kinds to the manual in hand."""
