"""The sheet for walking the stations."""
