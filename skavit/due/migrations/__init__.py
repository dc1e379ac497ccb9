"""Migrations of what is due."""
