"""Background jobs: queued in PostgreSQL, done in a child process within limits."""
