"""Tests of the archive."""
