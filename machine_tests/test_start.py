"""./start and what it leaves behind: on a hardened machine, twice, after a kill, with an earlier database."""

import os
import shutil
import signal
import subprocess
from pathlib import Path

from django.test import tag

from machine_tests.checkout import CheckoutCase, free_port, get

RENAME = (
    "from skavit.crews.models import Crew, User; Crew.objects.update(name='Another crew'); "
    "User.objects.filter(username='owner').update(first_name='x'); print(User.objects.count())"
)
# Whether the application's own role could read what only a superuser may.
ROLE = (
    "from django.db import connection as c; k = c.cursor(); "
    "k.execute('SELECT rolsuper, rolcreatedb, rolcreaterole FROM pg_roles WHERE rolname = current_user'); print(k.fetchone())"
)


@tag("machine")
class StartTest(CheckoutCase):
    def test_first_and_second_start_with_a_crew_renamed_in_between(self):
        self.assertIn("Demo login     kahu", self.started_before())
        running = self.start()
        self.assertTrue(running.wait_until(lambda: "Skavit is at" in running.output), running.output)
        self.assertEqual(get(f"{running.address}health/"), (200, "ok"))  # at once: it says so only then
        self.assertIn("Demo login     kahu", running.output)
        self.assertEqual(get(f"{running.address}login/")[0], 200)
        self.assertIn("(False, False, False)", self.manage("shell", "-v0", "-c", ROLE).stdout)
        self.assertEqual(self.manage("shell", "-v0", "-c", RENAME).stdout.strip(), "3")
        self.assertEqual(running.stop(), 130)
        # A second start installs nothing: there is no package manager and no sudo to be found on its path.
        tools = self.folder / "tools"
        tools.mkdir()
        for name in ("apt-get", "sudo", "pip"):
            (tools / name).write_text(f"#!/bin/sh\necho {name} was called; exit 1\n")
            (tools / name).chmod(0o755)
        os.environ["PATH"] = f"{tools}:{os.environ['PATH']}"
        self.addCleanup(os.environ.__setitem__, "PATH", os.environ["PATH"].split(":", 1)[1])
        again = self.started()
        self.assertNotIn("was called", again.output)
        self.assertNotIn("Installing", again.output)
        self.assertIn("Demo login     kahu", again.output)
        self.assertEqual(self.manage("shell", "-v0", "-c", RENAME).stdout.strip(), "3")

    def test_a_second_start_at_once_says_so_and_takes_nothing_away(self):
        self.started_before("--empty")
        running = self.started()
        other = self.run_here("bash", "./start", "--port", "8000")
        self.assertEqual(other.returncode, 1)
        self.assertEqual(other.stderr.strip(), f"Skavit runs already from this checkout, at {running.address}.")
        self.assertEqual(get(f"{running.address}health/"), (200, "ok"))

    def test_an_empty_start_begins_at_the_first_page_and_stays_so(self):
        self.assertIn("Nobody is here yet", self.started_before("--empty"))
        self.assertIn("Begin your crew", get(self.started().address)[1])


@tag("machine")
class DyingTest(CheckoutCase):
    def test_a_database_that_dies_is_told_and_brought_back(self):
        self.started_before("--empty")
        running = self.started()
        pid = self.postgres_pid()
        os.kill(running.process.pid, signal.SIGSTOP)
        os.kill(pid, signal.SIGKILL)
        self.assertTrue(running.wait_until(lambda: get(f"{running.address}health/")[0] == 503, 20))
        self.assertIn("the database does not answer", get(f"{running.address}health/")[1])
        os.kill(running.process.pid, signal.SIGCONT)
        self.assertTrue(running.wait_until(lambda: get(f"{running.address}health/")[0] == 200, 40), running.output)
        self.assertIn("The database has died; starting it again.", running.output)
        self.assertNotEqual(self.postgres_pid(), pid)

    def test_after_a_kill_the_next_start_goes_on(self):
        self.started_before("--empty")
        running = self.started()
        old = [line.split()[0] for line in (self.folder / "var" / "running").read_text().splitlines()]
        self.assertEqual(len(old), 2)
        for pid in old:  # they would not hear that their ./start is gone
            os.kill(int(pid), signal.SIGSTOP)
        os.kill(running.process.pid, signal.SIGKILL)
        running.process.wait()
        again = self.start(port=running.port)
        self.assertTrue(again.is_up(), again.output)
        self.assertIn("Ending what an earlier ./start left behind.", again.output)
        self.assertNotIn("is taken", again.output)
        self.assertEqual(get(f"{again.address}health/"), (200, "ok"))
        self.assertEqual([pid for pid in old if Path("/proc", pid, "cwd").exists()], [])

    def test_no_worker_outlives_its_start(self):
        self.started_before("--empty")
        running = self.started()
        old = [line.split()[0] for line in (self.folder / "var" / "running").read_text().splitlines()]
        os.kill(running.process.pid, signal.SIGKILL)
        running.process.wait()
        ended = running.wait_until(lambda: not any(Path("/proc", pid, "cwd").exists() for pid in old), 30)
        self.assertTrue(ended, old)
        self.assertEqual(get(f"{running.address}health/")[0], 0)


@tag("machine")
class MadeAnewTest(CheckoutCase):
    def test_a_checkout_made_anew_at_the_same_path_is_asked_what_to_do(self):
        if os.geteuid():
            self.skipTest("only root keeps the database outside of the checkout")
        self.started_before()
        shutil.rmtree(self.folder / "var")
        asked = self.run_here("bash", "./start", "--port", str(free_port()))
        self.assertEqual(asked.returncode, 1)
        self.assertIn(f"A database of an earlier checkout at this path is here: {self.clusters}/cluster", asked.stderr)
        taken = self.started("--take-on")
        self.assertEqual(self.manage("shell", "-v0", "-c", RENAME).stdout.strip(), "3")
        taken.stop()
        shutil.rmtree(self.folder / "var")
        anew = self.started("--set-aside", "--empty")
        self.assertIn("Nobody is here yet", anew.output)
        self.assertEqual(len(list(self.clusters.glob("cluster.20*"))), 1)


@tag("machine")
class WordsTest(CheckoutCase):
    def test_what_is_asked_wrongly_is_refused_in_words(self):
        for words, told in (
            (["--port", "99999"], "--port is '99999'; accepted: a number from 1 to 65535."),
            (["--port", "0"], "accepted: a number from 1 to 65535"),
            (["--port=x"], "accepted: a number from 1 to 65535"),
            (["--prot", "1"], "Usage: ./start [--port N]"),
        ):
            with self.subTest(words=words, told=told):
                found = self.run_here("bash", "./start", *words)
                self.assertEqual(found.returncode, 1)
                self.assertIn(told, found.stderr)

    def test_the_scripts_are_shell(self):
        for name in ("start", "test", "backup", "restore", "scripts/lib.sh"):
            with self.subTest(name=name):
                self.assertEqual(subprocess.run(["bash", "-n", self.folder / name], check=False).returncode, 0, name)
