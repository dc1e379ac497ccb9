"""A visit planned: who and when."""
