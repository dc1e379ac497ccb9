"""How the slots of a unit hold entries, and which OFF ends an ON."""
