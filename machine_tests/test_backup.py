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
LOG_OUT = "from django.contrib.sessions.models import Session; Session.objects.all().delete()"


@tag("machine")
class BackupTest(CheckoutCase):
    def rows(self):
        found = self.manage("shell", "-v0", "-c", ROWS)
        self.assertIn("units_planrevision", found.stdout, found.stderr)
        return [line for line in found.stdout.splitlines() if not line.startswith("procrastinate_")]

    def backup(self):
        found = self.run_here("bash", "./backup")
        self.assertEqual(found.returncode, 0, found.stderr)
        return self.folder / found.stdout.strip()

    def test_a_restore_equals_the_original_to_the_row(self):
        running = self.started()
        before = self.rows()
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
        again.stop()
        refused = self.run_here("bash", "./restore", str(archive))
        self.assertIn("The database here is not empty", refused.stderr)
        aside = self.run_here("bash", "./restore", str(archive), "--set-aside")
        self.assertIn("What was there before", aside.stdout)
        self.assertEqual(len(list(self.clusters.glob("cluster.20*"))), 2)

    def test_what_cannot_be_restored_is_refused_before_anything_is_touched(self):
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
            ("newer", self.newer(whole), "newer than this one"),
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

    def newer(self, data):
        """The same with a migration that this release does not know."""
        made = io.BytesIO()
        with tarfile.open(fileobj=io.BytesIO(data)) as old, tarfile.open(fileobj=made, mode="w") as new:
            for member in old:
                body = old.extractfile(member).read()
                if member.name == "about.json":
                    about = json.loads(body)
                    body = json.dumps(
                        about | {"release": "9.0", "migrations": [*about["migrations"], "units.9999_x"]}
                    ).encode()
                    member.size = len(body)
                new.addfile(member, io.BytesIO(body))
        return made.getvalue()
