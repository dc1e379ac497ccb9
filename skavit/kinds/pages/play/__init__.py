"""A kind played through, key by key."""
