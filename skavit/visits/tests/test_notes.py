"""Notes with photos outside visits: written once, with pictures made anew, taken away with a line that says so."""

from unittest.mock import patch

from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import TestCase
from django.urls import reverse

from skavit.crews.tests.builders import make_crew, make_unit, member
from skavit.visits.models import Note, Photo
from skavit.visits.tests.builders import new_token, picture


class NotesTest(TestCase):
    @classmethod
    def setUpTestData(cls):
        cls.crew = make_crew()
        cls.unit = make_unit(cls.crew)

    def setUp(self):
        self.client.force_login(member(self.crew).user)

    def write(self, text="The lid is cracked.", photos=(), token=None):
        sent = {"text": text, "photos": list(photos), "token": token or new_token()}
        return self.client.post(reverse("note-add", args=[self.unit.pk]), sent)

    def record(self):
        return self.client.get(reverse("record", args=[self.unit.pk]))

    def test_a_note_with_two_photos_is_shown_in_the_record(self):
        answer = self.write(photos=[picture(), picture("JPEG", (300, 200), "teal")])
        self.assertRedirects(answer, reverse("record", args=[self.unit.pk]) + "#notes")
        page = self.record()
        self.assertContains(page, "The lid is cracked.")
        for photo in Photo.objects.all():
            address = reverse("photo", args=[self.unit.pk, photo.pk])
            self.assertContains(page, address)
            self.assertEqual(self.client.get(address).headers["Content-Type"], "image/jpeg")

    def test_sent_twice_it_is_kept_once(self):
        token = new_token()
        self.write(token=token, photos=[picture()])
        self.write(token=token, photos=[picture()])
        self.assertEqual((Note.objects.count(), Photo.objects.count()), (1, 1))

    def test_what_is_no_picture_is_refused_and_what_was_typed_stays(self):
        for name, data in (("x.png", b"no picture"), ("x.svg", b"<svg xmlns='http://www.w3.org/2000/svg'/>")):
            answer = self.write(text="Kept words", photos=[picture(), SimpleUploadedFile(name, data)])
            with self.subTest(name=name):
                self.assertContains(answer, "no picture that can be read", status_code=422)
                self.assertContains(answer, "Kept words", status_code=422)
        self.assertFalse(Note.objects.exists() or Photo.objects.exists())

    def test_an_empty_note_and_too_many_photos_are_refused(self):
        self.assertContains(self.write(text=" "), "Accepted: words, a photo, or both", status_code=422)
        with patch("skavit.visits.pages.record.forms.MOST_NOTE_PHOTOS", 1):
            answer = self.write(photos=[picture(), picture()])
        self.assertContains(answer, "Accepted: at most 1 of a note", status_code=422)
        self.assertFalse(Note.objects.exists())

    def test_its_author_and_owners_take_it_away_nobody_else(self):
        self.write(photos=[picture()])
        note = Note.objects.get()
        away = reverse("note-away", args=[self.unit.pk, note.pk])
        note.by = member(self.crew, "owner").user
        note.save()
        self.assertEqual(self.client.post(away).status_code, 403)
        self.client.force_login(member(self.crew, "owner").user)
        self.client.post(away)
        page = self.record()
        self.assertNotContains(page, "The lid is cracked.")
        self.assertContains(page, "taken away by")
        self.assertFalse(Photo.objects.exists())

    def test_a_photo_of_a_note_is_no_other_crews(self):
        self.write(photos=[picture()])
        address = reverse("photo", args=[self.unit.pk, Photo.objects.get().pk])
        other = make_unit(make_crew("Other crew"))
        self.client.force_login(member(other.site.crew).user)
        self.assertEqual(self.client.get(address).status_code, 404)
        self.assertEqual(self.client.get(reverse("photo", args=[other.pk, Photo.objects.get().pk])).status_code, 404)

    def test_a_viewer_reads_and_does_not_write(self):
        self.write()
        self.client.force_login(member(self.crew, "viewer").user)
        self.assertContains(self.record(), "The lid is cracked.")
        self.assertNotContains(self.record(), "Write the note")
        self.assertEqual(self.write().status_code, 403)
