"""The library: kinds that ship, the crew's own, and kinds from files."""
