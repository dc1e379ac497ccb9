"""Sealing a text with the server's key, by Fernet of the package cryptography (AES-128-CBC with HMAC-SHA256)."""

import base64
import hashlib
import json

from cryptography.fernet import Fernet, InvalidToken
from django.conf import settings

from skavit.core.ground.errors import UserError


class NoKey(UserError):
    """The server has no key for codes."""


class OtherKey(UserError):
    """What is sealed was sealed with another key, for another unit, or is damaged."""


def can_seal() -> bool:
    """Whether the server has a key for codes."""
    return bool(settings.CODES_KEY)


def seal(text: str, unit: int) -> str:
    """A text that only the server's key opens, for one unit. Raises :class:`NoKey`."""
    return _fernet().encrypt(json.dumps([unit, text]).encode()).decode()


def opened(sealed: str, unit: int) -> str:
    """The text again. Raises :class:`NoKey`, and :class:`OtherKey` where it does not open or is another unit's."""
    try:
        whose, text = json.loads(_fernet().decrypt(sealed.encode()))
    except InvalidToken as error:
        raise OtherKey("This code was sealed by a server with another key. Write it down again.") from error
    if whose != unit:
        raise OtherKey("This code is another unit's. Write it down again.")
    return str(text)


def _fernet() -> Fernet:
    if not can_seal():
        raise NoKey("This server has no key for codes. Whoever runs it sets SKAVIT_CODES_KEY.")
    # A long random text as it comes, made into the 32 bytes that Fernet wants.
    return Fernet(base64.urlsafe_b64encode(hashlib.sha256(settings.CODES_KEY.encode()).digest()))
