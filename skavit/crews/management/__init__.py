"""Commands of crews."""
