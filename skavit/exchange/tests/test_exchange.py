"""Calendars read back, tables, and sites from a table: all of it or nothing, each bad line named."""

import csv
import datetime as dt
import io
import re
from datetime import UTC, datetime
from unittest import mock

from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from django.urls import reverse
from icalendar import Calendar

from skavit.background.models import Job, State
from skavit.background.services import Refused
from skavit.crews.tests.builders import make_crew, make_unit, member, stop_clock
from skavit.exchange import importing, tables
from skavit.exchange.models import FeedKey
from skavit.sites.models import Site
from skavit.units.models import Unit
from skavit.units.tests.one_unit import OneUnitCase

# Wednesday 12 May 2027, 09:00 in Hawke's Bay.
NOW = int(datetime(2027, 5, 11, 21, tzinfo=UTC).timestamp())
GOOD = """site,latitude,longitude,area,unit,whereabouts,kind,channels
Pinewood,-39.60,176.85,Plains,Path,by the gate,plug-in-weekly-switch,Path lights
Pinewood,-39.60,176.85,Plains,Sign,,,Sign; Flood
Bare hill,39.62 S,176.80 E,,,,,
"""


class ExchangeCase(OneUnitCase):
    def setUp(self):
        super().setUp()
        stop_clock(self, NOW)

    def address(self, **data):
        page = self.client.post(reverse("key-make"), data).content.decode()
        return re.search(r"/feeds/[\w-]+\.ics", page)[0]

    def rows(self, name, *args, **query):
        answer = self.client.get(reverse(name, args=args), query)
        self.assertIn("text/csv", answer["Content-Type"])
        return list(csv.DictReader(io.StringIO(answer.content.decode())))


class CalendarTest(ExchangeCase):
    def test_a_units_periods_are_read_back_as_they_will_be(self):
        answer = Client().get(self.address(unit=self.unit_pk))
        self.assertEqual(answer["Content-Type"], "text/calendar; charset=utf-8")
        # RFC 5545: lines end with CRLF and are no longer than 75 octets; VERSION and PRODID stand in it (sections 3.1, 3.6).
        lines = answer.content.split(b"\r\n")
        self.assertTrue(all(len(line) <= 75 for line in lines))
        self.assertNotIn(b"\n", b"".join(lines))
        calendar = Calendar.from_ical(answer.content)
        self.assertEqual(calendar["version"], "2.0")
        self.assertIn(b"X-WR-CALNAME:Harbour walk\\, Path lights", answer.content)  # section 3.3.11: a comma is escaped
        events = calendar.walk("VEVENT")
        self.assertGreater(len(events), 60)
        self.assertEqual(len({event["uid"] for event in events}), len(events))
        first = events[0]
        self.assertEqual(first["summary"], "Channel 1 on")
        # 05:50 in New Zealand in May is 17:50 UTC of the day before; 22:40 is 10:40 UTC.
        self.assertEqual(first.decoded("dtstart"), datetime(2027, 5, 11, 17, 50, tzinfo=UTC))
        self.assertIn((10, 40), {(e.decoded("dtend").hour, e.decoded("dtend").minute) for e in events})
        for event in events:
            self.assertLess(event.decoded("dtstart"), event.decoded("dtend"))
            self.assertTrue(event["dtstamp"])

    def test_what_is_due_is_a_day_each(self):
        self.client.post(reverse("plan-visit", args=[self.unit_pk]), {"date": "14 May", "person": ""})
        events = Calendar.from_ical(Client().get(self.address()).content).walk("VEVENT")
        told = {str(event["summary"]): event.decoded("dtstart") for event in events}
        self.assertEqual(told["Path lights, Harbour walk: visit planned"], dt.date(2027, 5, 14))

    def test_a_key_is_dead_once_taken_back_and_is_of_one_crew(self):
        address = self.address(unit=self.unit_pk)
        key = FeedKey.objects.get()
        self.assertNotIn(key.secret_hash, address)
        other = Client()
        other.force_login(member(make_crew("Other crew")).user)
        self.assertEqual(other.post(reverse("key-back", args=[key.pk])).status_code, 404)
        self.assertEqual(other.post(reverse("key-make"), {"unit": self.unit_pk}).status_code, 404)
        self.assertEqual(Client().get(address).status_code, 200)
        self.client.post(reverse("key-back", args=[key.pk]))
        self.assertEqual(Client().get(address).status_code, 404)


class TablesTest(ExchangeCase):
    def test_entries_periods_hours_and_sun(self):
        entries = self.rows("unit-table", self.unit_pk, "entries")
        self.assertEqual([row["at"] for row in entries], ["sunset + 10 min", "22:40", "05:50", "sunrise"])
        periods = self.rows("unit-table", self.unit_pk, "periods", year=2027)
        hours = self.rows("unit-table", self.unit_pk, "hours", year=2027)
        for what in ("wanted", "actual", "extra", "missing"):
            whole = sum(float(row["hours"]) for row in periods if row["what"] == what)
            by_month = sum(float(row[f"{what}_h"]) for row in hours)
            self.assertAlmostEqual(whole, by_month, places=1)
        sun = self.rows("sun-table", self.unit.site_id, year=2027)
        self.assertEqual(len(sun), 365)
        self.assertRegex(sun[0]["sunrise"], r"^2027-01-01T05:\d\d:\d\d\+13:00$")
        self.assertEqual(self.client.get(reverse("unit-table", args=[self.unit_pk, "colours"])).status_code, 404)

    def test_what_is_due_and_no_cell_is_a_formula(self):
        make_unit(self.crew, site="=HYPERLINK(1)", name="Signs")
        rows = self.rows("due-table")
        self.assertIn("'=HYPERLINK(1)", {row["site"] for row in rows})
        self.assertEqual(tables.table(("a",), [("+1",), (-1,)]).split(), ["a", "'+1", "-1"])


class SitesTest(ExchangeCase):
    def look(self, text):
        file = SimpleUploadedFile("sites.csv", text if isinstance(text, bytes) else text.encode())
        return self.client.post(reverse("sites-look"), {"file": file})

    def test_it_is_shown_first_then_all_of_it_is_taken(self):
        page = self.look(GOOD)
        self.assertContains(page, "It adds 2 sites and 2 units.")
        self.assertFalse(Site.objects.filter(name="Pinewood").exists())
        self.client.post(reverse("sites-take"), {"text": GOOD})
        job = Job.objects.get(does=importing.IMPORT_SITES)
        Job.objects.filter(pk=job.pk).update(state=State.RUNNING)
        outcome = importing.do_import_sites(Job.objects.get(pk=job.pk), mock.Mock())
        self.assertEqual(outcome.told, "2 sites and 2 units added.")
        site = self.crew.sites.get(name="Pinewood")
        self.assertEqual((site.area, site.timezone), ("Plains", "Pacific/Auckland"))
        path, sign = Unit.objects.filter(site=site).order_by("name")
        self.assertEqual((path.shipped_kind, path.whereabouts), ("plug-in-weekly-switch", "by the gate"))
        self.assertEqual([channel.name for channel in sign.plan.channels], ["Sign", "Flood"])
        # The same again: the units are there already, and nothing is taken.
        again = self.look(GOOD)
        self.assertContains(again, "has a unit Path already", status_code=422)

    def test_each_bad_line_is_named_and_none_is_taken(self):
        lines = [
            "Pinewood,-39.60,176.85,Plains,Path,,,",
            "Pinewood,-39.90,176.85,Plains,Sign,,,",
            "Harbour walk,-39.49,176.91,,Path lights,,,",
            ",-39.6,176.8,,,,,",
            "North,139,176.8,,,,,",
            "North,-39.6,176.8,,Unit,,no-such-kind,",
            "North,-39.6,176.8,,,,,Lamp",
            "North,-39.6,176.8,,Unit,,plug-in-weekly-switch,A; B",
            "North,-39.6",
            f"{'x' * 90},-39.6,176.8,,,,,",
        ]
        page = self.look("\n".join([GOOD.splitlines()[0], *lines]))
        self.assertEqual(page.status_code, 422)
        self.assertEqual([bad.line for bad in page.context["found"].bad], list(range(3, 12)))
        self.assertContains(page, "Line 6", status_code=422)
        self.assertNotContains(page, "Take all of it", status_code=422)
        answer = self.client.post(
            reverse("sites-take"), {"text": "\n".join([GOOD.splitlines()[0], *lines])}, follow=True
        )
        self.assertContains(answer, "Nothing was taken")
        self.assertEqual(self.crew.sites.count(), 1)

    def test_what_is_no_such_table_is_refused_in_words(self):
        for data, told in (
            (b"\xff\xfe", "is not UTF-8"),
            ("latitude,longitude\n1,2", "has no site"),
            ("site,latitude,longitude,colour\na,1,2,red", "has colour"),
            ("site,latitude,longitude\n" + "a,1,2\n" * 2001, "too many"),
        ):
            with self.subTest(told=told):
                self.assertContains(self.look(data), told, status_code=422)

    def test_what_has_changed_meanwhile_refuses_the_whole(self):
        self.client.post(reverse("sites-take"), {"text": GOOD})
        make_unit(self.crew, site="Pinewood", name="Path", plan=None)
        job = Job.objects.get(does=importing.IMPORT_SITES)
        with self.assertRaisesMessage(Refused, "Nothing was taken."):
            importing.do_import_sites(job, mock.Mock())
        self.assertFalse(self.crew.sites.filter(name="Bare hill").exists())
