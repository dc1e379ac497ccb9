"""Archived and removed rows, and how to bring them back."""
