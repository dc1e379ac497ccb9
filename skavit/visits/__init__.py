"""Visits: what is wrong, as found, what was done, as left; and the record of a unit."""
