"""Two application machines on one database: what is sent to one is there at the other, and none alone holds anything."""

import os
import re
import signal
import subprocess
import tempfile
import threading
import time
import uuid
from pathlib import Path

from django.test import tag

from benchmarks.load import Person, Tally, photo
from machine_tests.checkout import STARTED_S, CheckoutCase, clean_up, copy_tree, free_port, get

API = "/api/sites"


@tag("machine")
class TwoMachinesTest(CheckoutCase):
    def setUp(self):
        super().setUp()
        self.started_before()
        self.first = self.started()
        self.password_of_demo = self.password(self.first)
        self.second, self.web = self.second_machine()
        self.address = f"http://127.0.0.1:{self.second}"

    def second_machine(self):
        """Another checkout, with its web server and worker, at the database of the first (docs/deployment.md)."""
        folder = Path(tempfile.mkdtemp(prefix="skavit-second-"))
        self.addCleanup(clean_up, folder)
        copy_tree(folder)
        port = free_port()
        pid = int((self.folder / "var" / "web.pid").read_text())
        settings = dict(
            line.split("=", 1)
            for line in Path(f"/proc/{pid}/environ").read_text().split("\0")
            if line.startswith(("SKAVIT_", "PATH="))
        )
        subprocess.run(["cp", "-a", self.folder / "staticfiles", folder / "staticfiles"], check=True)
        log = (folder / "second.log").open("w")
        started = [
            subprocess.Popen(words, cwd=folder, env=settings, stdout=log, stderr=log, start_new_session=True)
            for words in (
                [
                    ".venv/bin/gunicorn",
                    "skavit.wsgi",
                    "--config",
                    "scripts/gunicorn.conf.py",
                    "--bind",
                    f"127.0.0.1:{port}",
                ],
                [".venv/bin/python", "manage.py", "procrastinate", "worker"],
            )
        ]
        for process in started:
            self.addCleanup(self.end, process)
        until = time.monotonic() + STARTED_S
        while get(f"http://127.0.0.1:{port}/health/")[0] != 200:
            self.assertLess(time.monotonic(), until, (folder / "second.log").read_text())
            time.sleep(0.2)
        return port, started[0]

    @staticmethod
    def end(process):
        if process.poll() is None:
            os.killpg(process.pid, signal.SIGKILL)
        process.wait()

    def person(self, base, name="kahu"):
        found = Person(base, Tally())
        found.log_in(name, self.password_of_demo)
        return found

    def note(self, person, text, **more):
        return person.ask("/units/1/notes/photos/", {"token": str(uuid.uuid4()), "text": text}, **more)[1]

    def test_what_is_sent_to_one_is_there_at_the_other(self):
        here, there = self.person(self.first.address.rstrip("/")), self.person(self.address)

        with self.subTest("a photo"):
            self.note(here, "the lid is cracked", file=("photos", photo(300)))
            record = there.ask("/units/1/record/")[1]
            self.assertIn("the lid is cracked", record)
            picture = re.search(r"/units/1/photos/\d+\.jpg", record)[0]
            self.assertEqual(there.ask(picture)[0], 200)

        with self.subTest("work"):
            page = here.ask("/units/1/sheet/pdf/", {})[1]
            job = re.search(r"/jobs/\d+/", page)[0]
            until = time.monotonic() + 90
            while "entry-sheet.pdf" not in (page := there.ask(job)[1]):
                self.assertLess(time.monotonic(), until, page)
                time.sleep(0.5)
            self.assertEqual(there.ask(f"{job}file/")[0], 200)

        with self.subTest("a key"):
            owner, other = self.person(self.first.address.rstrip("/"), "owner"), Person(self.address, Tally())
            page = owner.ask("/api/keys/", {"program": "Accounts"})[1]
            secret = re.search(r'class="customer-link">([^<]+)<', page)[1]
            other.opener.addheaders = [("Authorization", f"Bearer {secret}")]
            self.assertEqual(other.ask(API)[0], 200)
            back = re.search(r"/api/keys/\d+/back/", owner.ask("/api/")[1])[0]
            owner.ask(back, {})
            self.assertEqual(other.ask(API)[0], 401)

        with self.subTest("one is killed"):
            written = []

            def write():
                while len(written) < 40:
                    said = uuid.uuid4().hex
                    if said not in self.note(there, said):
                        return
                    written.append(said)

            thread = threading.Thread(target=write)
            thread.start()
            until = time.monotonic() + 60
            while len(written) < 5:
                self.assertLess(time.monotonic(), until)
                time.sleep(0.05)
            os.killpg(self.web.pid, signal.SIGKILL)
            thread.join()
            record = here.ask("/units/1/record/")[1]
            self.assertEqual([said for said in written if said not in record], [])
