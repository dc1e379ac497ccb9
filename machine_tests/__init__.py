"""The commands of the README on a machine: ./start, ./backup, ./restore in a checkout of their own."""
