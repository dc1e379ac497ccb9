"""Migrations of the keys of programs."""
