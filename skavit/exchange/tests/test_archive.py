"""A crew's archive: out, all of it away, in again, out again: the same to the last row, with the same years and photos."""

import json
import zipfile
from io import BytesIO, StringIO
from pathlib import Path
from tempfile import TemporaryDirectory
from unittest import mock
from uuid import uuid4

from django.core.files.uploadedfile import SimpleUploadedFile
from django.core.management import CommandError, call_command
from django.db import transaction
from django.test import TestCase
from django.urls import reverse
from PIL import Image

from skavit.background.models import Job
from skavit.background.services import Refused
from skavit.core.kinds import shipped_kinds
from skavit.core.plan import edits
from skavit.crews.models import Crew, User
from skavit.crews.tests.builders import make_crew, make_unit, member
from skavit.due.models import Due
from skavit.due.services.planning import plan_visit
from skavit.exchange import archiving
from skavit.exchange.archive import ArchiveRefused, read_archive, work_out, write_archive
from skavit.heating.tests.builders import make_heating
from skavit.kinds.services import add_kind
from skavit.server.now import read_now, year_at
from skavit.units.computing import unit_year
from skavit.units.models import Unit
from skavit.units.services import revisions
from skavit.units.services.ticks import Pressed, set_ticks
from skavit.visits.models import Photo
from skavit.visits.services.notes import write_note
from skavit.visits.tests.builders import make_visit, picture


def written(crew, **more):
    out = BytesIO()
    write_archive(crew, out, **more)
    out.seek(0)
    return out


def content(file):
    with zipfile.ZipFile(file) as archive:
        return {name: archive.read(name) for name in archive.namelist()}


def years(crew):
    found = {}
    for unit in Unit.objects.filter(site__crew=crew).select_related("site", "head"):
        run = unit_year(unit.plan, year_at(unit.site.place, read_now())).replay
        found[unit.name] = [(c.actual.on.tolist(), c.actual.off.tolist()) for c in run.channels]
    return found


class ArchiveTest(TestCase):
    @classmethod
    def setUpTestData(cls):
        cls.crew = make_crew()
        for membership in cls.crew.memberships.select_related("user"):
            membership.user.username = f"test-{membership.role}"  # as logins are chosen
            membership.user.save()
        person = member(cls.crew)
        add_kind(person, shipped_kinds()[0])
        unit = make_unit(cls.crew)
        revisions.edit(unit, person, unit.head.number, lambda plan: edits.remove_entry(plan, 0), "less", now=read_now())
        unit = Unit.objects.get(pk=unit.pk)
        revisions.undo(unit, person, unit.head.number, now=read_now())
        unit = Unit.objects.select_related("site", "head").get(pk=unit.pk)
        make_visit(unit, person)
        set_ticks(unit, person, [Pressed(key="a" * 32, done=True)], {"a" * 32}, set, instant=unit.created)
        write_note(
            unit,
            person,
            token=uuid4(),
            text="cracked",
            photos=[SimpleUploadedFile("lid.png", picture().read())],
            instant=unit.created,
        )
        plan_visit(unit, person, person=person.user, date=None, note="ladder", now=read_now())
        make_heating(cls.crew)
        make_unit(make_crew("Other crew"), name="Another crew's")

    def away(self):
        """The crew with everybody in it goes, as if the database were another one."""
        Unit.objects.filter(site__crew=self.crew).update(head=None)
        people = list(User.objects.filter(memberships__crew=self.crew))
        Crew.objects.get(pk=self.crew.pk).delete()
        for person in people:
            person.delete()

    def test_out_and_in_again_is_the_same_to_the_last_row(self):
        before = content(written(self.crew, with_passwords=True))
        ran, due = years(self.crew), set(Due.objects.filter(crew=self.crew).values_list("unit__name", "sort", "date"))
        file = written(self.crew, with_passwords=True)
        created = self.crew.sites.get(name="Harbour walk").created
        self.away()
        self.assertFalse(Crew.objects.filter(name="Test crew").exists())
        crew = read_archive(file)
        self.assertEqual(content(written(crew, with_passwords=True)), before)
        self.assertEqual(crew.sites.get(name="Harbour walk").created, created)
        told = []
        work_out(crew, lambda done, of: told.append((done, of)))
        self.assertEqual(told[-1], (2, 2))
        self.assertEqual(years(crew), ran)
        self.assertEqual(set(Due.objects.filter(crew=crew).values_list("unit__name", "sort", "date")), due)
        self.assertEqual(Photo.objects.filter(visit__crew=crew).count(), 1)
        unit = Unit.objects.get(site__crew=crew, name="Path lights")
        self.assertEqual(unit.head.number, 2)
        self.assertTrue(unit.is_keyed)
        self.assertTrue(User.objects.get(username="test-owner").check_password("x"))

    def test_without_passwords_nobody_can_log_in_before_a_link(self):
        file = written(self.crew)
        self.assertNotIn(b"pbkdf2", content(file)["crew.json"])
        self.away()
        read_archive(file)
        self.assertFalse(User.objects.get(username="test-owner").has_usable_password())

    def test_of_the_others_nothing_is_in_it(self):
        rows = content(written(self.crew))["crew.json"]
        self.assertNotIn(b"Another crew", rows)
        self.assertNotIn(b"Other crew", rows)

    def changed(self, change):
        """The archive with something in it changed."""
        parts = content(written(self.crew))
        document = json.loads(parts["crew.json"])
        change(document, parts)
        out = BytesIO()
        with zipfile.ZipFile(out, "w") as archive:
            for name, data in parts.items():
                archive.writestr(name, json.dumps(document) if name == "crew.json" else data)
        out.seek(0)
        return out

    def test_what_is_not_sound_is_refused_whole(self):
        with self.assertRaisesMessage(ArchiveRefused, "Crew 1"):
            read_archive(written(self.crew))  # its name is taken
        for change, told in (
            (lambda d, _: d.update(format="other"), 'no "format"'),
            (lambda d, _: d["rows"].pop("Site"), "a list each"),
            (lambda d, _: d["rows"]["Crew"].append(d["rows"]["Crew"][0]), "2 crews"),
            (lambda d, _: d["rows"]["Site"][0].pop("name"), "Site 1: other fields"),
            (lambda d, _: d["rows"]["Site"][0].update(latitude=99), "Site 1"),
            (lambda d, _: d["rows"]["Unit"][0].update(site=77), "points at a Site that is not there"),
            (lambda d, _: d["rows"]["PlanRevision"][1]["document"].update(colour="red"), "PlanRevision 2: colour"),
            (lambda d, _: d["rows"]["Visit"][0].update(begun="yesterday"), "begun is not accepted"),
            (lambda d, _: d["rows"]["Site"][0].update(notes="a\x00b"), "a character that is no text"),
            (lambda _, parts: parts.pop("photos/1.jpg"), "no archive of a crew"),
            (lambda _, parts: parts.update({"photos/1.jpg": b"a picture"}), "Photo 1: This is no picture"),
        ):
            file = self.changed(change)
            with self.subTest(told=told), transaction.atomic():
                self.away()
                with self.assertRaisesMessage(ArchiveRefused, told):
                    read_archive(file)
                self.assertFalse(Crew.objects.filter(name="Test crew").exists())
                transaction.set_rollback(True)
        with self.assertRaisesMessage(ArchiveRefused, "no archive of a crew"):
            read_archive(BytesIO(b"PK but no more"))
        deep = BytesIO()
        with zipfile.ZipFile(deep, "w") as archive:
            archive.writestr("crew.json", "[" * 100_000 + "]" * 100_000)
        with self.assertRaisesMessage(ArchiveRefused, "nested too deeply"):
            read_archive(deep)

    def test_photos_are_made_anew_without_what_they_carried(self):
        sent = BytesIO()
        Image.new("RGB", (40, 30), "red").save(sent, "JPEG", comment=b"a secret")
        file = self.changed(lambda _, parts: parts.update({"photos/1.jpg": sent.getvalue()}))
        self.away()
        photo = Photo.objects.filter(visit__crew=read_archive(file)).get()
        self.assertNotIn(b"secret", bytes(photo.image))
        self.assertEqual((photo.width, photo.height), (40, 30))

    def test_beside_the_crew_that_it_was_written_from_under_other_names(self):
        def renamed(document, _):
            document["rows"]["Crew"][0]["name"] = "Second crew"
            for number, person in enumerate(document["rows"]["User"]):
                person["username"] = f"second-{number}"

        crew = read_archive(self.changed(renamed))
        self.assertEqual(crew.visits.count(), self.crew.visits.count())
        self.assertFalse(
            set(crew.visits.values_list("token", flat=True)) & set(self.crew.visits.values_list("token", flat=True))
        )

    def test_an_owner_asks_for_it_on_a_page(self):
        self.client.force_login(member(self.crew).user)
        self.assertEqual(self.client.post(reverse("crew-archive")).status_code, 403)
        self.client.force_login(member(self.crew, "owner").user)
        self.assertContains(self.client.get(reverse("exchange")), "All data of the crew as one file")
        self.client.post(reverse("crew-archive"))
        job = Job.objects.get(does=archiving.CREW_ARCHIVE)
        outcome = archiving.do_archive(job, mock.Mock())
        self.assertEqual(content(BytesIO(outcome.answer)), content(written(self.crew)))
        with mock.patch.object(archiving, "MOST_PHOTO_BYTES", 10), self.assertRaisesMessage(Refused, "export_crew"):
            archiving.do_archive(job, mock.Mock())

    def test_commands(self):
        with TemporaryDirectory() as folder:
            file = Path(folder) / "crew.zip"
            call_command("export_crew", "Test crew", file, stdout=StringIO())
            with self.assertRaisesMessage(CommandError, "File exists"):
                call_command("export_crew", "Test crew", file, stdout=StringIO())
            with self.assertRaisesMessage(CommandError, "no crew is called"):
                call_command("export_crew", "Nobody", file)
            with self.assertRaisesMessage(CommandError, "Crew 1"):
                call_command("import_crew", file)
            self.away()
            out = StringIO()
            call_command("import_crew", file, stdout=out)
            self.assertIn("Test crew is in.", out.getvalue())
            self.assertTrue(Unit.objects.get(name="Path lights").result)
            with self.assertRaisesMessage(CommandError, "No such file"):
                call_command("import_crew", Path(folder) / "none.zip")
