"""The calls of the command line: what each takes, and what it prints."""
