"""Style sheets keep to their tokens, a few sizes of type and a few gaps; templates to lines that can be read."""

import re
from pathlib import Path
from unittest import TestCase

from django.conf import settings

STYLES = Path(settings.BASE_DIR) / "skavit" / "static" / "css"
LINKED = Path(settings.BASE_DIR) / "skavit" / "templates" / "_styles.html"
MOST = 8
LONGEST_LINE = 160
# In print sizes are the paper's own; below it a length lines something up with a picture beside it.
ALIGNED_FROM = 28
SIZE = re.compile(r"font(?:-size)?: [^;}]*?\b([\d.]+)px")
SPACE = re.compile(r"(?:gap|margin|padding)(?:-\w+)?: ([^;}]+)")
LENGTH = re.compile(r"(?<![-\w])([\d.]+)px")


class StylesTest(TestCase):
    def parts(self):
        return {path.name: path.read_text() for path in STYLES.glob("*.css")}

    def test_every_part_is_linked_once_tokens_first(self):
        linked = re.findall(r"css/(\w+\.css)", LINKED.read_text())
        self.assertEqual(sorted(linked), sorted(self.parts()))
        self.assertEqual(linked[0], "tokens.css")

    def test_eight_sizes_of_type_and_eight_gaps(self):
        tokens = self.parts()["tokens.css"]
        for kind in ("type", "space"):
            names = set(re.findall(rf"--({kind}-\w+):", tokens))
            self.assertLessEqual(len(names), MOST, names)
            used = {name for text in self.parts().values() for name in re.findall(rf"var\(--({kind}-\w+)\)", text)}
            self.assertEqual(used, names)

    def test_nothing_is_set_beside_them(self):
        for name, text in self.parts().items():
            if name in ("print.css", "tokens.css"):
                continue
            with self.subTest(part=name):
                self.assertEqual([size for size in SIZE.findall(text) if size != "0"], [])
                lengths = [float(px) for value in SPACE.findall(text) for px in LENGTH.findall(value)]
                self.assertEqual([px for px in lengths if px < ALIGNED_FROM], [])


class TemplateLinesTest(TestCase):
    def test_no_line_is_too_long_to_read(self):
        for path in (Path(settings.BASE_DIR) / "skavit" / "templates").rglob("*.html"):
            longest = max(map(len, path.read_text().splitlines()), default=0)
            self.assertLessEqual(longest, LONGEST_LINE, path.name)
