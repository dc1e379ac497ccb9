"""Mails written into a folder, each readable by its owner alone from its first byte: they hold links to passwords."""

import os

from django.core.mail.backends.filebased import EmailBackend


class PrivateFolderBackend(EmailBackend):
    """Django's own, with the rights of its files."""

    def open(self) -> bool:
        """Begin a file; whether there was none."""
        if self.stream is not None:
            return False
        handle = os.open(self._get_filename(), os.O_WRONLY | os.O_CREAT | os.O_APPEND, 0o600)
        self.stream = os.fdopen(handle, "ab")
        return True
