"""Tests of codes."""
