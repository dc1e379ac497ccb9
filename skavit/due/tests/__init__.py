"""Tests of what is due."""
