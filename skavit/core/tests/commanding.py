"""The command line as a test calls it."""

import contextlib
import io
import json
import tempfile
import unittest
from pathlib import Path

from skavit.core.__main__ import main


class CommandTest(unittest.TestCase):
    """Files to give to the command line, what it prints, and how it refuses."""

    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def file(self, name, text):
        (self.folder / name).write_text(text)
        return str(self.folder / name)

    def prints(self, *words):
        out = io.StringIO()
        with contextlib.redirect_stdout(out):
            self.assertEqual(main(list(words)), 0)
        return json.loads(out.getvalue())

    def refuses(self, *words):
        said = io.StringIO()
        with contextlib.redirect_stderr(said):
            self.assertEqual(main(list(words)), 2)
        (line,) = said.getvalue().splitlines()
        return line
