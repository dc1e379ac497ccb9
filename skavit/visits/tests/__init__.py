"""Tests of visits."""
