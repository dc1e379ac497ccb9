"""Work that takes longer than a page may: queued in PostgreSQL, done in a child process within bounds."""
