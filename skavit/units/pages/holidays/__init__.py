"""Dates on which no entry acts."""
