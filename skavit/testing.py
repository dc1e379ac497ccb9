"""The test runner: Django's own, which closes with the count of what really ran."""

from typing import Any

from django.conf import settings
from django.test.runner import DiscoverRunner


class CountingRunner(DiscoverRunner):
    """Prints ``N passed, N failed`` as its last line."""

    def setup_test_environment(self, **kwargs: Any) -> None:
        """Hash passwords quickly: the tests make many people, and none of them is real."""
        super().setup_test_environment(**kwargs)
        settings.PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]

    def suite_result(self, suite: Any, result: Any, **kwargs: Any) -> int:
        """Count failures, errors and unexpected successes as failed."""
        failed = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
        skipped = len(result.skipped)
        tail = f", {skipped} skipped" if skipped else ""
        self.closing = f"{result.testsRun - failed - skipped} passed, {failed} failed{tail}"
        found: int = super().suite_result(suite, result, **kwargs)
        return found

    def run_tests(self, test_labels: list[str], **kwargs: Any) -> int:
        """Run, and close with the count."""
        self.closing = "0 passed, 1 failed"
        try:
            return super().run_tests(test_labels, **kwargs)
        finally:
            print(self.closing)
