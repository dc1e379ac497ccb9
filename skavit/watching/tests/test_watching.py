"""Ready, metrics and log lines, as those who watch a server see them."""

import json
import logging
from datetime import timedelta
from unittest import TestCase as PlainTestCase
from unittest import mock

from django.db import OperationalError
from django.db.migrations.recorder import MigrationRecorder
from django.test import TestCase, override_settings
from django.utils import timezone
from prometheus_client.parser import text_string_to_metric_families

from skavit.background import services
from skavit.background.models import Job
from skavit.crews.tests.builders import make_crew, member
from skavit.watching import logs, views


class ReadyTest(TestCase):
    def answer(self):
        found = self.client.get("/ready/")
        return found.status_code, found.json()

    def test_all_is_well(self):
        told = {"ready": True, "database": "ok", "migrations": "ok", "oldest_waiting_s": 0}
        self.assertEqual(self.answer(), (200, told))

    def test_a_migration_that_is_missing(self):
        MigrationRecorder.Migration.objects.filter(app="crews", name="0001_release_0_1_0").delete()
        status, told = self.answer()
        self.assertEqual((status, told["migrations"]), (503, ["crews.0001_release_0_1_0"]))

    def test_work_that_nobody_begins(self):
        services.begin(member(make_crew()), "refresh", "Years", {}, "/")
        self.assertEqual(self.answer()[0], 200)
        Job.objects.update(created=timezone.now() - timedelta(seconds=views.TOO_OLD_S + 5))
        status, told = self.answer()
        self.assertEqual((status, told["ready"]), (503, False))
        self.assertAlmostEqual(told["oldest_waiting_s"], views.TOO_OLD_S + 5, delta=60)

    def test_a_database_that_is_away(self):
        away = mock.patch.object(views.MigrationRecorder, "applied_migrations", side_effect=OperationalError("away"))
        with away, mock.patch.object(views, "connection"):  # that of the test must not be closed
            self.assertEqual(self.answer(), (503, {"ready": False, "database": "does not answer"}))


class MetricsTest(TestCase):
    def samples(self):
        text = self.client.get("/metrics").content.decode()
        return {
            (sample.name, *sample.labels.values()): sample.value
            for family in text_string_to_metric_families(text)
            for sample in family.samples
        }

    def test_requests_refusals_and_the_queue_are_counted(self):
        before = self.samples()
        self.client.get("/nowhere/")
        services.begin(member(make_crew()), "refresh", "Years", {}, "/")
        after = self.samples()
        key = ("skavit_refusals_total", "404")
        self.assertEqual(after[key] - before.get(key, 0), 1)
        self.assertEqual(after["skavit_jobs", "waiting"], 1)
        for name in ("skavit_request_seconds_count", "skavit_computing_seconds_total", "skavit_turn_seconds_total"):
            self.assertIn((name,), after)

    def test_only_this_machine_may_ask_unless_set(self):
        self.assertEqual(self.client.get("/metrics", REMOTE_ADDR="198.51.100.7").status_code, 404)
        with override_settings(METRICS_FROM=["198.51.100.7"]):
            self.assertEqual(self.client.get("/metrics", REMOTE_ADDR="198.51.100.7").status_code, 200)
            self.assertEqual(self.client.get("/metrics").status_code, 404)


class LogTest(PlainTestCase):
    def record(self, fault=None):
        exc = (type(fault), fault, None) if fault else None
        return logging.LogRecord("skavit", logging.ERROR, __file__, 1, "Request %s failed", ("/round/",), exc)

    def test_of_an_outage_one_line_is_written(self):
        outage, away = logs.OneLineOfAnOutage(), OperationalError("connection refused\nIs the server running?")
        written = [record for record in (self.record(away) for _ in range(500)) if outage.filter(record)]
        self.assertEqual(
            [record.getMessage() for record in written], ["The database does not answer: connection refused"]
        )
        self.assertIsNone(written[0].exc_info)
        outage._said -= logs.QUIET_S
        later = self.record(away)
        self.assertTrue(outage.filter(later))
        self.assertIn("(499 more like it)", later.getMessage())
        self.assertTrue(outage.filter(self.record(ValueError("a fault of ours"))))

    def test_json_has_one_line_with_the_requests_id(self):
        seen = []

        def view(request):
            seen.append(logs.JsonLines().format(self.record(ValueError("a fault"))))
            return {}

        response = mock.Mock(headers={})
        logs.RequestIdMiddleware(lambda request: view(request) or response)(None)
        line = json.loads(seen[0])
        self.assertEqual(line["request"], response.headers["X-Request-Id"])
        self.assertEqual((line["level"], line["text"]), ("error", "Request /round/ failed"))
        self.assertIn("ValueError", line["traceback"])
        self.assertNotIn("\n", seen[0])
        self.assertNotIn("request", json.loads(logs.JsonLines().format(self.record())))
