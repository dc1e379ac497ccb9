"""Rooms and frost protection."""
