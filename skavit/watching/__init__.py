"""The server seen from outside: whether it is ready, what it counts, and its log lines."""
