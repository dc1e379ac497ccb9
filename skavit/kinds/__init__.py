"""Kinds of unit: those that ship, and those that a crew has adjusted to a manual."""
