"""The page of a load: what hangs on a channel."""
