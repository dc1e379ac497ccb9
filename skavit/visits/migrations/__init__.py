"""Migrations of visits."""
