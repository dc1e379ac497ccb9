"""Tests of who changed what."""
