"""./backup and ./restore: equal to the row, refused before anything is touched, and what was there put aside."""

import io
import json
import tarfile

from django.test import tag

from machine_tests.checkout import CheckoutCase

# Every row of every table, as the database itself writes it, in an order of its own.
ROWS = (
    "from django.db import connection as c; from django.apps import apps; import hashlib\n"
    "for m in sorted(apps.get_models(), key=lambda m: m._meta.db_table):\n"
    "    k = c.cursor(); k.execute(f'SELECT t::text FROM \"{m._meta.db_table}\" t ORDER BY 1'); r = k.fetchall()\n"
    "    print(m._meta.db_table, len(r), hashlib.sha256(repr(r).encode()).hexdigest())\n"
)
# A visit with a photo, a note with one, a site moved, a code.
LIVED = (
    "from uuid import uuid4\n"
    "from django.core.files.uploadedfile import SimpleUploadedFile\n"
    "from skavit.codes.services import keep_code\n"
    "from skavit.crews.models import Membership\n"
    "from skavit.server.history import changes_by\n"
    "from skavit.server.now import read_instant\n"
    "from skavit.units.models import Unit\n"
    "from skavit.visits.services.notes import write_note\n"
    "from skavit.visits.tests.builders import make_visit, picture\n"
    "kahu = Membership.objects.get(user__username='kahu'); unit = Unit.objects.order_by('pk')[0]\n"
    "make_visit(unit, kahu)\n"
    "photo = SimpleUploadedFile('lid.png', picture().read())\n"
    "write_note(unit, kahu, token=uuid4(), text='cracked', photos=[photo], instant=read_instant())\n"
    "keep_code(unit, kahu, name='PIN', code='4711', instant=read_instant())\n"
    "with changes_by(kahu.user): unit.site.latitude -= 0.25; unit.site.save()\n"
)
# What the application makes of it: the year of every unit, the photos, who changed what, the code.
TOLD = (
    "import hashlib\n"
    "from skavit.changes.listing import Asked, changes_page\n"
    "from skavit.codes.models import Code\n"
    "from skavit.codes.sealing import opened\n"
    "from skavit.crews.models import Crew\n"
    "from skavit.units.models import Unit\n"
    "from skavit.units.results import unit_year\n"
    "from skavit.visits.models import Photo\n"
    "for unit in Unit.objects.order_by('pk'):\n"
    "    arrays = unit_year(unit.plan, 2027, remedies=False).replay.arrays\n"
    "    print('year', unit, hashlib.sha256(b''.join(a.tobytes() for a in arrays)).hexdigest())\n"
    "for photo in Photo.objects.order_by('pk'): print('photo', hashlib.sha256(bytes(photo.image)).hexdigest())\n"
    "crew = Crew.objects.get()\n"
    "for change in changes_page(crew, Asked(), crew.words).changes: print('change', change)\n"
    "for code in Code.objects.all(): print('code', opened(code.sealed, code.unit_id))\n"
)
LOG_OUT = "from django.contrib.sessions.models import Session; Session.objects.all().delete()"


class BackupCase(CheckoutCase):
    def rows(self):
        found = self.manage("shell", "-v0", "-c", ROWS)
        self.assertIn("units_planrevision", found.stdout, found.stderr)
        return [line for line in found.stdout.splitlines() if not line.startswith("procrastinate_")]

    def told(self, code):
        found = self.manage("shell", "--verbosity", "0", "-c", code)
        self.assertEqual(found.returncode, 0, found.stderr)
        return found.stdout.splitlines()

    def backup(self):
        found = self.run_here("bash", "./backup")
        self.assertEqual(found.returncode, 0, found.stderr)
        return self.folder / found.stdout.strip()


@tag("machine")
class BackupTest(BackupCase):
    def test_a_restore_equals_the_original_to_the_row(self):
        self.started_before()
        running = self.started()
        self.told(LIVED)
        before, told = self.rows(), self.told(TOLD)
        self.assertEqual(
            [sum(line.startswith(what) for line in told) for what in ("year", "photo", "code")], [17, 2, 1], told
        )
        self.assertIn("latitude", "".join(line for line in told if line.startswith("change")))
        archive = self.backup()
        self.assertEqual(archive.stat().st_mode & 0o777, 0o600)
        refused = self.run_here("bash", "./restore", str(archive))
        self.assertIn("Skavit runs from this checkout. Stop it first", refused.stderr)
        self.manage("remove_demo")
        self.assertNotEqual(self.rows(), before)
        running.stop()

        # Once nobody is there the database counts as empty; as it was it is put beside all the same.
        found = self.run_here("bash", "./restore", str(archive))
        self.assertEqual(found.returncode, 0, found.stderr)
        again = self.started()
        self.assertEqual(self.rows(), before)
        self.assertEqual(self.told(TOLD), told)
        again.stop()
        refused = self.run_here("bash", "./restore", str(archive))
        self.assertIn("The database here is not empty", refused.stderr)
        aside = self.run_here("bash", "./restore", str(archive), "--set-aside")
        self.assertIn("What was there before", aside.stdout)
        self.assertEqual(len(list(self.clusters.glob("cluster.20*"))), 2)


@tag("machine")
class BadArchiveTest(BackupCase):
    def test_what_cannot_be_restored_is_refused_before_anything_is_touched(self):
        self.started_before()
        running = self.started()
        archive = self.backup()
        running.stop()
        stamp = (self.clusters / "cluster" / "PG_VERSION").stat().st_ino
        whole = archive.read_bytes()
        for name, data, told in (
            ("cut", whole[: len(whole) // 2], "cut short"),
            ("empty", b"", "cut short"),
            ("text", b"no archive at all", "no backup of Skavit"),
            ("damaged", self.damaged(whole), "checksum"),
            ("newer", self.told_of(whole, "9.0", ["units.9999_x"]), "newer than this one"),
            ("older", self.told_of(whole, "0.0", ["units.0001_initial"]), "a version before release"),
        ):
            with self.subTest(name=name, data=data, told=told):
                file = self.folder / name
                file.write_bytes(data)
                found = self.run_here("bash", "./restore", str(file), "--set-aside")
                self.assertEqual(found.returncode, 1, name)
                self.assertIn(told, found.stderr, name)
                self.assertIn("Nothing was touched", found.stderr, name)
                self.assertEqual((self.clusters / "cluster" / "PG_VERSION").stat().st_ino, stamp, name)
        self.assertIn("no such file", self.run_here("bash", "./restore", "nowhere").stderr)

    def damaged(self, data):
        """One byte of the database another."""
        place = data.rindex(b"PGDMP") + 2000
        return data[:place] + bytes([data[place] ^ 1]) + data[place + 1 :]

    def told_of(self, data, release, migrations):
        """The same with other migrations than this release has, and more."""
        made = io.BytesIO()
        with tarfile.open(fileobj=io.BytesIO(data)) as old, tarfile.open(fileobj=made, mode="w") as new:
            for member in old:
                body = old.extractfile(member).read()
                if member.name == "about.json":
                    about = json.loads(body)
                    told = {"release": release, "migrations": [*about["migrations"], *migrations]}
                    body = json.dumps(about | told).encode()
                    member.size = len(body)
                new.addfile(member, io.BytesIO(body))
        return made.getvalue()
