"""What the core's results look like outside: JSON for the command line, JSON Schema for the plan file."""
