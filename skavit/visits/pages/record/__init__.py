"""The record of a unit: its visits, its revisions, and two of them side by side."""
