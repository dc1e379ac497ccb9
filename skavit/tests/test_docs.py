"""What the docs list is all there is."""

import re
from pathlib import Path

from django.conf import settings
from django.test import SimpleTestCase

from skavit.calculators.views import CALCULATORS
from skavit.tests import house_map

ROOT = Path(settings.BASE_DIR)
DOCS = ROOT / "docs"


class DocsTest(SimpleTestCase):
    def test_every_variable_of_the_environment_is_told(self):
        read = [file for file in (ROOT / "skavit").rglob("*.py") if "tests" not in file.parts]
        used = {name for file in read for name in re.findall(r'"(SKAVIT_[A-Z_]+)"', file.read_text())}
        told = set(re.findall(r"`(SKAVIT_[A-Z_]+)`", (DOCS / "deployment.md").read_text()))
        self.assertGreater(len(used), 12)
        self.assertEqual(used, told)

    def test_every_decision_stands_in_the_index(self):
        files = sorted(file.name for file in (DOCS / "decisions").glob("0*.md"))
        listed = re.findall(r"\]\((0.*?)\)", (DOCS / "decisions" / "README.md").read_text())
        self.assertEqual(listed, files)

    def test_the_map_is_that_of_the_code(self):
        made = house_map.house_map()
        self.assertEqual(house_map.shown(), made)
        rooms = re.findall(r"^\| `(.*?)` \| (.*) \|$", made, re.MULTILINE)
        self.assertGreater(len(rooms), 40)
        self.assertEqual([name for name, says in rooms if not says], [])

    def test_the_readme_names_every_calculator(self):
        told = " ".join((ROOT / "README.md").read_text().casefold().split())
        self.assertEqual([one.name for one in CALCULATORS if one.name.casefold() not in told], [])

    def test_links_lead_to_files(self):
        pages = [*ROOT.glob("*.md"), *DOCS.glob("*.md"), *(DOCS / "decisions").glob("*.md")]
        links = {(page, link) for page in pages for link in re.findall(r"\]\(([^)#:]+)(?:#[^)]*)?\)", page.read_text())}
        self.assertGreater(len(links), 50)
        for page, link in sorted(links):
            with self.subTest(page=page.name, link=link):
                self.assertTrue((page.parent / link).exists())
