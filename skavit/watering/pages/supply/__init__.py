"""Supply and rules: when water may flow, how much at once, the average year."""
