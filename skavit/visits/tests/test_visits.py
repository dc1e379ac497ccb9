"""A visit from the first field to its end: from two devices, sent twice, late, refused; what it freezes, and what is not yet keyed."""

import struct
import zlib
from dataclasses import replace
from io import BytesIO
from unittest import mock
from uuid import uuid4

from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse
from PIL import Image

from skavit.core.plan import edits
from skavit.core.plan.times import ClockTime
from skavit.core.sheet import Difference
from skavit.crews.models import Membership, User
from skavit.crews.tests.builders import make_unit, member
from skavit.server.now import read_instant, read_now
from skavit.units.services import revisions
from skavit.units.tests.one_unit import OneUnitCase
from skavit.visits.models import Photo, Visit
from skavit.visits.pages.visit.page import not_keyed
from skavit.visits.services import notes, photos
from skavit.visits.services.notes import write_note
from skavit.visits.services.photos import made_anew
from skavit.visits.tests.builders import LEFT, make_visit, new_token, picture, written

JSON = {"Accept": "application/json"}


class VisitCase(OneUnitCase):
    def setUp(self):
        super().setUp()
        self.token = new_token()

    def save(self, fields, was=None, *, end=False, token=None, revision=None, client=None):
        data = written(fields, was) | {"token": token or self.token, "revision": revision or self.unit.head.number}
        data |= {"end": "1"} if end else {}
        return (client or self.client).post(reverse("visit-save", args=[self.unit_pk]), data, headers=JSON)

    def send_photo(self, file, token=None, visit=None):
        data = {"photo": file, "token": token or new_token(), "visit": visit or self.token}
        return self.client.post(reverse("photo-add", args=[self.unit_pk]), data, headers=JSON)

    def second_person(self):
        person = User.objects.create_user(username="Ana", password="x")
        Membership.objects.create(crew=self.crew, user=person, role="installer")
        client = self.client_class()
        client.force_login(person)
        return client

    @property
    def visit(self):
        return Visit.objects.get(token=self.token)

    def change_off(self, seconds):
        unit = self.unit
        return revisions.edit(
            unit, member(self.crew), unit.head.number,
            lambda plan: edits.change_entry(plan, 1, replace(plan.unit.entries[1], at=ClockTime(seconds))),
            "OFF moved", now=read_now(),
        )  # fmt: skip


class WritingTest(VisitCase):
    def test_fields_are_kept_one_by_one_and_sent_twice_they_count_once(self):
        answer = self.save({"battery": "low", "time": "10:05"})
        self.assertEqual((answer.status_code, answer.json()["number"], answer.json()["conflicts"]), (200, 1, {}))
        self.save({"battery": "low"})
        self.save({"switches": "DIP 2 on"})
        self.assertEqual(self.visit.values, {"battery": "low", "time": "10:05", "switches": "DIP 2 on"})
        self.assertEqual(Visit.objects.count(), 1)
        page = self.page("visit")
        self.assertContains(page, "Visit 1")
        self.assertContains(page, 'value="DIP 2 on"')

    def test_it_goes_on_on_another_device_and_what_both_wrote_is_a_conflict(self):
        self.save({"battery": "low", "note": "wet inside"})
        other = self.second_person()
        answer = self.save({"battery": "flat"}, {"battery": "low"}, token=new_token(), client=other)
        self.assertEqual(answer.json()["number"], 1)
        late = self.save({"battery": "good", "done": "cells changed"}, {"battery": "low"}).json()
        self.assertEqual(late["conflicts"], {"battery": {"theirs": "flat", "by": "Ana"}})
        self.assertEqual(self.visit.value("battery"), "flat")
        self.assertEqual(self.visit.value("done"), "cells changed")
        self.save({"battery": "good"}, {"battery": "flat"})
        self.assertEqual(self.visit.value("battery"), "good")

    def test_two_devices_that_begin_at_once_are_at_one_visit(self):
        asked = []

        def none_yet(unit):
            asked.append(unit)
            return None if len(asked) == 1 else Visit.objects.filter(unit=unit, ended=None).first()

        self.save({"battery": "low"})
        with mock.patch("skavit.visits.services.visits.open_visit", none_yet):
            answer = self.save({"note": "from the second"}, token=new_token())
        self.assertEqual((answer.json()["number"], Visit.objects.count()), (1, 1))

    def test_what_is_too_long_or_unknown_is_not_kept(self):
        self.save({"note": "x" * 5000, "colour": "red"})
        self.assertEqual(set(self.visit.values), {"note"})
        self.assertEqual(len(self.visit.value("note")), 1000)

    def test_without_a_script_it_is_a_form(self):
        data = written({"battery": "low"}) | {"token": self.token, "revision": "2"}
        answer = self.client.post(reverse("visit-save", args=[self.unit_pk]), data)
        self.assertContains(answer, "Visit 1")
        data = written(LEFT) | {"token": self.token, "revision": "2", "end": "1"}
        answer = self.client.post(reverse("visit-save", args=[self.unit_pk]), data, follow=True)
        self.assertContains(answer, "The plan keys the same today.")


class EndingTest(VisitCase):
    def test_it_ends_with_what_was_found_frozen_and_signed(self):
        self.save({"lines": "on sunset\noff 22:40", "time": "10:05", "mode": "automatic", "battery": "low"})
        answer = self.save(LEFT, end=True)
        self.assertEqual(answer.json()["errors"], {})
        visit = self.visit
        self.assertEqual(answer.json()["ended"], reverse("visit-shown", args=[self.unit_pk, visit.pk]))
        self.assertEqual(len(visit.as_found.entries), 2)
        self.assertEqual(visit.as_found.shown["battery"], "low")
        self.assertEqual(visit.plan, self.unit.plan)
        self.assertEqual(self.unit.keyed, self.unit.head)
        shown = self.client.get(answer.json()["ended"])
        for told in ("Visit 1", "22:40", "low", "automatic", "Kahu", "The plan keys the same today."):
            self.assertContains(shown, told)
        frozen = self.client.get(reverse("visit-plan", args=[self.unit_pk, visit.pk]))
        self.assertEqual(frozen.json(), self.unit.plan.to_json())

    def test_it_does_not_end_before_it_says_what_it_must(self):
        answer = self.save({"time": "half past", "suspended": "date"}, end=True).json()
        self.assertEqual(answer["ended"], "")
        self.assertEqual(set(answer["errors"]), {"time", "keyed", "left_mode", "signed", "suspended_until"})
        self.assertEqual(self.visit.value("time"), "half past")
        self.assertIsNone(self.visit.ended)

    def test_it_keyed_the_revision_that_was_in_hand_and_the_rest_is_not_yet_keyed(self):
        self.save({"note": "begun"})
        in_hand = self.unit.head.number
        self.change_off(21 * 3600)
        self.save(LEFT, end=True, revision=in_hand)
        unit = self.unit
        self.assertEqual(unit.keyed.number, in_hand)
        self.assertFalse(unit.is_keyed)
        words = self.crew.words
        line = Difference(what="Slot 2", before="OFF 22:40, every day", after="OFF 21:00, every day")
        self.assertEqual(not_keyed(unit, words), (line,))
        for name in ("visit", "record"):
            self.assertContains(self.page(name), "OFF 21:00")
        self.token = new_token()
        self.save(LEFT, end=True)
        self.assertTrue(self.unit.is_keyed)
        self.assertEqual(not_keyed(self.unit, words), ())

    def test_nothing_keyed_freezes_nothing(self):
        self.save(LEFT | {"keyed": "nothing"}, end=True)
        self.assertIsNone(self.visit.document)
        self.assertIsNone(self.unit.keyed)

    def test_what_comes_after_its_end_is_told_and_photos_still_come(self):
        self.save({"battery": "low"})
        self.save(LEFT, end=True)
        late = self.save({"battery": "good"})
        self.assertEqual(late.status_code, 409)
        self.assertIn("ended visit 1", late.json()["over"])
        self.assertEqual(self.visit.value("battery"), "low")
        self.assertEqual(self.send_photo(picture()).status_code, 200)
        self.assertEqual(self.visit.photos.count(), 1)

    def test_a_viewer_looks_and_writes_nothing(self):
        self.save({"battery": "low"})
        self.client.force_login(member(self.crew, "viewer").user)
        self.assertContains(self.page("visit"), "You may look")
        self.assertEqual(self.save({"battery": "good"}).status_code, 403)


class SentTwiceTest(VisitCase):
    """What is sent twice at once, or for another unit's visit, is told and no fault."""

    def other_visit(self):
        other = make_unit(self.crew, name="Yard")
        return make_visit(other, member(self.crew))[0]

    def test_a_visit_of_another_unit_is_told(self):
        token = str(self.other_visit().token)
        saved = self.save({"battery": "low"}, token=token)
        self.assertEqual(saved.status_code, 422)
        self.assertContains(saved, "This visit is another unit&#x27;s", status_code=422)
        sent = self.send_photo(picture(), visit=token)
        self.assertEqual(sent.status_code, 422)
        self.assertIn("This visit is another unit's", sent.json()["refused"])

    def test_a_photo_that_the_other_request_has_just_kept_is_the_same(self):
        token = new_token()
        self.send_photo(picture(), token)
        with mock.patch.object(photos.Photo.objects, "filter") as first:
            first.return_value.defer.return_value.first.side_effect = [None, Photo.objects.get()]
            self.assertEqual(self.send_photo(picture(), token).status_code, 200)
        self.assertEqual(Photo.objects.count(), 1)

    def test_a_note_that_the_other_request_has_just_kept_is_the_same(self):
        token, unit, instant = uuid4(), self.unit, read_instant()

        def quicker(file, size):
            write_note(unit, member(self.crew), token=token, text="cracked", photos=[], instant=instant)
            return made_anew(file, size)

        with mock.patch.object(notes, "made_anew", quicker):
            note = write_note(
                unit, member(self.crew), token=token, text="cracked", photos=[SimpleUploadedFile("a.png", picture().read())],
                instant=instant,
            )  # fmt: skip
        self.assertEqual(unit.notes.get(), note)


class PhotoTest(VisitCase):
    def test_it_is_made_anew_small_and_bare_and_kept_once(self):
        token = new_token()
        for _ in range(2):
            self.assertEqual(self.send_photo(picture("JPEG"), token).status_code, 200)
        (photo,) = Photo.objects.all()
        shown = self.client.get(reverse("photo", args=[self.unit_pk, photo.pk]))
        self.assertEqual(shown["Content-Type"], "image/jpeg")
        kept = Image.open(BytesIO(shown.content))
        self.assertEqual((kept.format, kept.size), ("JPEG", (1600, 800)))
        self.assertFalse(kept.getexif())

    def test_what_it_carried_is_gone_and_grey_of_sixteen_bits_stays_grey(self):
        told = picture("JPEG", (1200, 800))
        image, sent = Image.open(told), BytesIO()
        exif = image.getexif()
        exif[0x010E] = "a secret place"
        exif[0x0112] = 6  # turned by a quarter
        image.save(sent, "JPEG", exif=exif, comment=b"a secret comment", icc_profile=b"a secret profile")
        deep = BytesIO()
        Image.new("I;16", (40, 40), 32_768).save(deep, "PNG")
        for file, size in ((sent, (800, 1200)), (deep, (40, 40))):
            file.seek(0)
            jpeg = photos.made_anew(file, 10)
            self.assertNotIn(b"secret", jpeg.data)
            self.assertEqual((jpeg.width, jpeg.height), size)
        self.assertAlmostEqual(Image.open(BytesIO(jpeg.data)).getpixel((20, 20))[0], 128, delta=2)

    def test_half_a_megabyte_of_sixty_million_pixels_is_refused_by_its_head(self):
        """The head alone says so: 59 million pixels of 16 bits, which would take 350 MB."""
        chunks = (b"IHDR" + struct.pack(">IIBBBBB", 7700, 7700, 16, 2, 0, 0, 0), b"IDAT")
        png = b"\x89PNG\r\n\x1a\n" + b"".join(
            struct.pack(">I", len(chunk) - 4) + chunk + struct.pack(">I", zlib.crc32(chunk)) for chunk in chunks
        )
        file = BytesIO(png)
        file.name = "photo.png"
        answer = self.send_photo(file)
        self.assertEqual(answer.status_code, 422)
        self.assertIn(
            "7700 by 7700 pixels are too many. Accepted: a PNG of at most 24 million", answer.json()["refused"]
        )

    def test_one_picture_at_a_time_and_who_waits_too_long_is_told_to_come_again(self):
        with photos._turn(), mock.patch.object(photos, "WAITING_S", 0.1):
            answer = self.send_photo(picture())
        self.assertEqual(answer.status_code, 503)
        self.assertContains(answer, "this one again in a moment", status_code=503)
        self.assertEqual(self.send_photo(picture()).status_code, 200)

    def test_memory_and_time_are_bounded(self):
        with mock.patch.object(photos, "REMAKING_S", 0.01):
            self.assertIn("too long", self.send_photo(picture()).json()["refused"])
        killed = mock.Mock(returncode=-9, stdout=b"", stderr=b"")
        with mock.patch.object(photos.subprocess, "run", return_value=killed):
            self.assertIn("too much memory", self.send_photo(picture()).json()["refused"])

    def test_what_is_no_photo_is_refused_in_words(self):
        svg = BytesIO(b"<svg xmlns='http://www.w3.org/2000/svg'/>")
        broken = BytesIO(picture().read()[:200])
        gif = picture("GIF", (10, 10))
        for name, file in (("svg", svg), ("no png", BytesIO(b"\x89PNG but no more")), ("broken", broken), ("gif", gif)):
            with self.subTest(name=name):
                file.name = "photo.png"
                answer = self.send_photo(file)
                self.assertEqual(answer.status_code, 422)
                self.assertIn("Accepted: a JPEG, PNG or WebP picture", answer.json()["refused"])
        self.assertEqual(Photo.objects.count(), 0)

    def test_forty_megabytes_are_refused_before_they_are_read(self):
        large = BytesIO(b"x" * 40_000_000)
        large.name = "photo.jpg"
        self.assertEqual(self.send_photo(large).status_code, 413)

    def test_a_visit_has_so_many_photos_and_no_more(self):
        with mock.patch.object(photos, "MOST_PHOTOS", 1):
            self.send_photo(picture())
            self.assertEqual(self.send_photo(picture()).status_code, 422)


class RecordTest(VisitCase):
    def test_revisions_side_by_side_entry_by_entry_and_hour_by_hour(self):
        self.save(LEFT, end=True)
        before = self.unit.head.number
        after = self.change_off(21 * 3600).number
        record = self.page("record")
        self.assertContains(record, "<b>in the unit</b>")
        self.assertContains(record, "OFF moved")
        page = self.page("compare", **{"from": before, "to": after})
        self.assertContains(page, "OFF 21:00, every day")
        self.assertContains(page, "Wanted alike.")
        self.assertContains(page, "less on")
        self.assertContains(page, "year-upright")
        self.assertContains(self.page("compare", **{"from": after, "to": after}), "Keyed alike.")
        self.assertRedirects(self.page("compare", **{"from": 99}), reverse("record", args=[self.unit_pk]))


class OnlyChangedTest(VisitCase):
    def test_the_sheet_leaves_out_what_stands_in_the_unit(self):
        self.assertNotContains(self.page("sheet"), "Only what has changed")
        self.save(LEFT, end=True)
        self.assertNotContains(self.page("sheet", changed=1), "Only what has changed")
        self.assertContains(self.page(), "<b>Sheet<")
        self.change_off(21 * 3600)
        whole, part = self.page("sheet"), self.page("sheet", changed=1)
        self.assertContains(whole, "Only what has changed")
        titles = [[row.step.title for row in page.context["rows"] if row.step.kind == "slot"] for page in (whole, part)]
        self.assertEqual([len(listed) for listed in titles], [4, 1])
        self.assertIn("21:00", str(part.content))
        self.assertContains(self.page(), "not yet keyed")
