"""The page of a kind: what it can do, and the order of its steps."""
