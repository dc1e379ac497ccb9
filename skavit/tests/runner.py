"""The test runner: Django's own, which names the slowest tests and closes with the count of what really ran."""

import multiprocessing
import time
from typing import Any
from unittest import TestCase, mock

import hypothesis
from django.conf import settings
from django.test.runner import DiscoverRunner, ParallelTestSuite, RemoteTestResult, RemoteTestRunner

SLOWEST = 10
COPIED = "_demo"  # the end of the names of databases that are copied for each test (browser_tests/database.py)


def may_have_children(case: TestCase) -> None:
    """Let a test begin processes of its own: those of the parallel runner may have none otherwise."""
    allowed = mock.patch.dict(multiprocessing.current_process()._config, daemon=False)  # type: ignore[attr-defined]
    allowed.start()
    case.addCleanup(allowed.stop)


class TimedRemoteResult(RemoteTestResult):
    """Times each test in the process that runs it, and sends the figure along with its other events."""

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self._since = time.monotonic()

    def stopTest(self, test: TestCase) -> None:  # noqa: N802  unittest's name
        """Send how long the test took; of the first of a class, with what sets the class up."""
        now = time.monotonic()
        self.events.append(("addTime", self.test_index, now - self._since))
        self._since = now
        super().stopTest(test)


class TimedRemoteRunner(RemoteTestRunner):
    """Runs the tests of one process and times them."""

    resultclass = TimedRemoteResult


class TimedSuite(ParallelTestSuite):
    """Runs tests in parallel and times each where it runs."""

    runner_class = TimedRemoteRunner


class CountingRunner(DiscoverRunner):
    """Prints the slowest tests, then ``N passed, N failed`` as its last line."""

    parallel_test_suite = TimedSuite

    def setup_test_environment(self, **kwargs: Any) -> None:
        """Hash passwords quickly: the tests make many people, and none of them is real.

        Properties have no deadline: a machine that has other work is no fault.
        """
        super().setup_test_environment(**kwargs)
        hypothesis.settings.register_profile("skavit", deadline=None, print_blob=True)
        hypothesis.settings.load_profile("skavit")
        settings.PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]

    def teardown_databases(self, old_config: Any, **kwargs: Any) -> None:
        """Remove the databases of the tests and their copies, whoever still has one open."""
        # Not django.db.connection: a browser's event loop has given this thread another one.
        for connection, _, _ in old_config:
            like = f"{connection.settings_dict['NAME']}%"
            with connection._nodb_cursor() as cursor:
                others = "datname LIKE %s AND pid <> pg_backend_pid() AND usename = current_user"
                cursor.execute(f"SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE {others}", [like])
                cursor.execute("SELECT datname FROM pg_database WHERE datname LIKE %s", [f"{like}{COPIED}"])
                for (copy,) in cursor.fetchall():
                    cursor.execute(f'DROP DATABASE "{copy}"')
        super().teardown_databases(old_config, **kwargs)

    def get_resultclass(self) -> Any:
        """Collect the time of each test, by name."""
        times = self.times = {}  # type: dict[str, float]

        class Timed(super().get_resultclass() or self.test_runner.resultclass):  # type: ignore[misc]
            def addTime(self, test: TestCase, took: float) -> None:  # noqa: N802  named like the events of unittest
                times[test.id()] = took

        return Timed

    def suite_result(self, suite: Any, result: Any, **kwargs: Any) -> int:
        """Count failures, errors and unexpected successes as failed."""
        failed = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
        skipped = len(result.skipped)
        tail = f", {skipped} skipped" if skipped else ""
        self.closing = f"{result.testsRun - failed - skipped} passed, {failed} failed{tail}"
        for name, took in sorted(self.times.items(), key=lambda each: -each[1])[:SLOWEST]:
            print(f"{took:7.1f} s  {name}")
        found: int = super().suite_result(suite, result, **kwargs)
        return found

    def run_tests(self, test_labels: list[str], **kwargs: Any) -> int:
        """Run, and close with the count."""
        self.closing = "0 passed, 1 failed"
        try:
            return super().run_tests(test_labels, **kwargs)
        finally:
            print(self.closing)
