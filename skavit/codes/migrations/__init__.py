"""Migrations of codes."""
