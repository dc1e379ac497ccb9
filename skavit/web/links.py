"""Secrets of links: told once, kept as a hash, so that who reads the database has none of them."""

import hashlib
import secrets

SECRET_BYTES = 24


def new_secret() -> str:
    """A secret for an address."""
    return secrets.token_urlsafe(SECRET_BYTES)


def hash_of(secret: str) -> str:
    """What is kept of it, 64 hexadecimal digits."""
    return hashlib.sha256(secret.encode()).hexdigest()
