"""Tests of open formats."""
