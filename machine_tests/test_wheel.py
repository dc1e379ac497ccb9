"""The core as a package of its own: built from a clean checkout, run where nothing of the application is installed."""

import re
import subprocess
import sys
import tempfile
from pathlib import Path
from unittest import TestCase

from django.test import tag

from machine_tests.checkout import ROOT

SUN = [
    "sun",
    "--latitude=-39.49",
    "--longitude",
    "176.91",
    "--timezone",
    "Pacific/Auckland",
    "--from",
    "2027-02-15",
    "--to",
    "2027-02-15",
]


@tag("machine")
class WheelTest(TestCase):
    def setUp(self):
        found = tempfile.TemporaryDirectory(prefix="skavit-wheel-")
        self.addCleanup(found.cleanup)
        self.folder = Path(found.name)

    def run_in(self, folder, *words):
        return subprocess.run(words, cwd=folder, capture_output=True, text=True, check=False)

    def test_pip_gives_the_command_line_without_django(self):
        source = self.folder / "checkout"
        source.mkdir()
        packed = subprocess.run(["git", "archive", "HEAD"], cwd=ROOT, capture_output=True, check=True).stdout
        subprocess.run(["tar", "-x", "-C", source], input=packed, check=True)
        self.run_in(self.folder, sys.executable, "-m", "venv", "fresh")
        python = str(self.folder / "fresh" / "bin" / "python")
        installed = self.run_in(self.folder, python, "-m", "pip", "install", "--quiet", str(source))
        self.assertEqual(installed.returncode, 0, installed.stderr)
        alone = self.run_in(self.folder, python, "-m", "skavit.core", *SUN)
        here = self.run_in(ROOT, sys.executable, "-m", "skavit.core", *SUN)
        self.assertEqual((alone.returncode, alone.stdout), (0, here.stdout), alone.stderr)
        for module in ("django", "skavit.units", "skavit.core.tests"):
            with self.subTest(module):
                self.assertIn("ModuleNotFoundError", self.run_in(self.folder, python, "-c", f"import {module}").stderr)

    def test_its_zone_data_are_those_of_the_application(self):
        pinned = re.search(r"^tzdata==(\S+)", (ROOT / "requirements" / "app.txt").read_text(), re.MULTILINE)[1]
        self.assertIn(f'"tzdata=={pinned}"', (ROOT / "pyproject.toml").read_text())
