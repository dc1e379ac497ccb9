"""Migrations of open formats."""
