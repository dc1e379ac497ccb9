"""A checkout in a folder of its own, with the Python packages of this one, whose commands are run and stopped."""

import atexit
import fcntl
import hashlib
import os
import re
import shutil
import signal
import subprocess
import tempfile
import time
import urllib.error
import urllib.request
from contextlib import contextmanager
from importlib.util import cache_from_source
from pathlib import Path
from unittest import TestCase

PROTECTED = Path("/proc/sys/fs/protected_regular")
ROOT = Path(__file__).resolve().parent.parent
STARTED_S = 150  # a machine whose cores have other work takes a minute and more


def free_port():
    """The port that ./start would take for its database: not one of those that outgoing connections are given."""
    found = subprocess.run(
        ["bash", "-c", ". scripts/lib.sh; free_port"], cwd=ROOT, capture_output=True, text=True, check=True
    )
    return int(found.stdout)


def get(url):
    """(status, text) of a page; 0 where nothing answers."""
    try:
        with urllib.request.urlopen(url, timeout=5) as answer:
            return answer.status, answer.read().decode()
    except urllib.error.HTTPError as error:
        return error.code, error.read().decode()
    except OSError:
        return 0, ""


class Running:
    """A ./start under way; what it prints stands in ``output``."""

    def __init__(self, folder, *words, port=None):
        self.port = port or free_port()
        self.log = folder / "var-start.log"
        self.process = subprocess.Popen(
            ["bash", "./start", "--port", str(self.port), *words],
            cwd=folder, stdout=self.log.open("w"), stderr=subprocess.STDOUT, start_new_session=True,
        )  # fmt: skip
        self.address = f"http://127.0.0.1:{self.port}/"

    @property
    def output(self):
        return self.log.read_text()

    def wait_until(self, what, seconds=STARTED_S):
        until = time.monotonic() + seconds
        while time.monotonic() < until:
            if what():
                return True
            time.sleep(0.2)
        return False

    def is_up(self):
        """Until it says that it is there, which it does once the page answers."""
        return self.wait_until(lambda: "Ctrl-C stops it" in self.output or self.process.poll() is not None)

    def stop(self):
        """As Ctrl-C does: the signal goes to all that stands in the foreground."""
        if self.process.poll() is None:
            os.killpg(self.process.pid, signal.SIGINT)
        return self.process.wait(timeout=40)


def _copy_compiled(name, folder):
    """What Python has compiled of a file here, which it takes as its own by the file's time and size."""
    if name.endswith(".py"):
        compiled = Path(cache_from_source(name))
        if (ROOT / compiled).exists():
            (folder / compiled).parent.mkdir(exist_ok=True)
            shutil.copy2(ROOT / compiled, folder / compiled)


def copy_tree(folder):
    """What git has here, changes that are not committed included."""
    listed = subprocess.run(
        ["git", "ls-files", "-co", "--exclude-standard"], cwd=ROOT, capture_output=True, text=True, check=True
    )
    for name in listed.stdout.splitlines():
        if (ROOT / name).is_file() and not name.startswith(("docs/screenshots", "browser_tests/vendor")):
            (folder / name).parent.mkdir(parents=True, exist_ok=True)
            shutil.copy2(ROOT / name, folder / name)
            _copy_compiled(name, folder)
    (folder / ".venv").symlink_to(ROOT / ".venv")


def clusters_of(folder):
    """Where a checkout at this path keeps its database."""
    if os.geteuid():
        return folder / "var"
    key = hashlib.sha256(f"{folder.resolve()}\n".encode()).hexdigest()[:12]
    return Path("/var/lib/skavit") / key


def clean_up(folder):
    """End what runs there, and remove it."""
    clusters = clusters_of(folder)
    for pid in clusters.glob("*/postmaster.pid"):
        os.kill(int(pid.read_text().splitlines()[0]), signal.SIGQUIT)
    shutil.rmtree(clusters, ignore_errors=True)
    shutil.rmtree(folder, ignore_errors=True)


# The process that began the tests: those that run them are its forks, and share what was started first.
FIRST = Path(tempfile.gettempdir()) / f"skavit-first-{os.getpid()}"


@atexit.register  # of that process alone: forks of multiprocessing leave without
def clean_up_first():
    for folder in FIRST.glob("*/"):
        clean_up(folder)
    shutil.rmtree(FIRST, ignore_errors=True)


def first_start(*words):
    """(a checkout that was started for the first time and stopped again, what it printed); made once a run."""
    folder = FIRST / ("".join(words).strip("-") or "demo")
    FIRST.mkdir(exist_ok=True)
    with folder.with_suffix(".lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        done = folder.with_suffix(".up")
        if not done.exists():
            folder.mkdir()
            copy_tree(folder)
            with hardened():
                running = Running(folder, *words)
                up = running.is_up()
            running.stop()
            if not up:
                told = running.output
                clean_up(folder)  # the next one tries anew
                raise AssertionError(told)
            done.write_text(running.output)
        return folder, done.read_text()


@contextmanager
def hardened():
    """The kernel's protection of files in shared folders as Debian 12 boots with it, where this machine lets one set it."""
    before = PROTECTED.read_text()
    writable = os.access(PROTECTED, os.W_OK)
    try:
        if writable:
            PROTECTED.write_text("2")
        yield
    finally:
        if writable:
            PROTECTED.write_text(before)


class CheckoutCase(TestCase):
    """``folder`` is a fresh checkout of what git has here."""

    def setUp(self):
        self.folder = Path(tempfile.mkdtemp(prefix="skavit-machine-"))
        copy_tree(self.folder)
        self.addCleanup(clean_up, self.folder)

    @property
    def clusters(self):
        """Where the checkout keeps its database."""
        return clusters_of(self.folder)

    def started_before(self, *words):
        """Bring in what a first start with these words leaves behind; gives what that start printed."""
        first, output = first_start(*words)
        subprocess.run(["cp", "-a", first / "var", self.folder / "var"], check=True)
        if not os.geteuid():
            self.clusters.parent.mkdir(parents=True, exist_ok=True)
            subprocess.run(["cp", "-a", clusters_of(first), self.clusters], check=True)
        return output

    def start(self, *words, port=None):
        running = Running(self.folder, *words, port=port)
        self.addCleanup(running.stop)
        return running

    def started(self, *words):
        running = self.start(*words)
        self.assertTrue(running.is_up(), running.output)
        self.assertIsNone(running.process.poll(), running.output)
        return running

    def run_here(self, *words, **more):
        return subprocess.run(words, cwd=self.folder, capture_output=True, text=True, timeout=120, check=False, **more)

    def manage(self, *words):
        """A management command beside a running ./start."""
        pid = int((self.folder / "var" / "web.pid").read_text())
        settings = Path(f"/proc/{pid}/environ").read_text().split("\0")
        environment = dict(line.split("=", 1) for line in settings if line.startswith(("SKAVIT_", "PATH=")))
        return self.run_here(".venv/bin/python", "manage.py", *words, env=environment)

    def postgres_pid(self):
        return int((self.clusters / "cluster" / "postmaster.pid").read_text().splitlines()[0])

    def password(self, running):
        return re.search(r"Password +(\S+)", running.output)[1]
