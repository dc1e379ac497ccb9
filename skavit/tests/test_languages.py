"""Pages in the language of whoever reads them, and catalogues that say everything."""

import re

from django.test import SimpleTestCase, TestCase
from django.urls import reverse

from scripts import make_messages
from skavit.crews.tests.builders import make_crew, make_unit, member

PLACES = re.compile(r"%\(\w+\)[sd]|\{\w+\}")
SVG = re.compile(r"<svg.*?</svg>", re.DOTALL)


class CataloguesTest(SimpleTestCase):
    def test_every_sentence_is_translated_with_its_places_and_compiled(self):
        for of, least in ((make_messages.CUSTOMER, 25), (make_messages.PAGES, 150)):
            sentences = make_messages.sentences(of)
            self.assertGreater(len(sentences), least)
            for path in make_messages.catalogues(of):
                catalogue = make_messages.read(path)
                with self.subTest(path=path.parent):
                    self.assertEqual(set(make_messages.told(catalogue)), sentences)
                    for message in catalogue:
                        if not message.id:
                            continue
                        self.assertTrue(message.string, message.id)
                        self.assertFalse(message.fuzzy, message.id)
                        places = [sorted(PLACES.findall(text)) for text in (message.id, message.string)]
                        self.assertEqual(*places, message.id)
                    self.assertEqual(path.with_suffix(".mo").read_bytes(), make_messages.compiled(path))


class LanguageTest(TestCase):
    @classmethod
    def setUpTestData(cls):
        cls.crew = make_crew()
        cls.unit = make_unit(cls.crew)

    def test_before_the_login_it_is_the_browsers(self):
        page = self.client.get(reverse("login"), headers={"Accept-Language": "de-CH,de;q=0.9"})
        self.assertContains(page, '<html lang="de">')
        self.assertContains(page, "Passwort vergessen")
        self.assertEqual(page.headers["Content-Language"], "de")
        self.assertContains(self.client.get(reverse("login"), headers={"Accept-Language": "nl"}), "Log in")

    def test_a_person_chooses_and_is_not_given_half_a_page_that_they_did_not_ask_for(self):
        self.client.force_login(member(self.crew).user)
        self.assertContains(self.client.get(reverse("account"), headers={"Accept-Language": "de"}), "Your account")
        self.choose("fr")
        page = self.client.get(reverse("account"), headers={"Accept-Language": "de"})
        self.assertContains(page, "Votre compte")
        self.assertContains(page, ">Installateur, Test crew<")
        refused = self.client.post(reverse("account"), {"about": "language", "language": "xx"})
        self.assertEqual(refused.status_code, 422)

    def choose(self, language):
        self.client.post(reverse("account"), {"about": "language", "language": language})

    def test_a_visit_with_what_its_page_says_by_itself(self):
        self.client.force_login(member(self.crew).user)
        self.choose("es")
        page = self.client.get(reverse("visit", args=[self.unit.pk]))
        for words in ("Como estaba", "Hora que muestra", "Terminar la visita", "Sin conexi\\u00f3n."):
            self.assertContains(page, words)
        self.assertContains(page, 'value="on by hand"')  # what is kept is the same in every language

    def test_numbers_and_pictures_are_the_same_in_every_language(self):
        self.client.force_login(member(self.crew).user)
        for name, pk in (("unit", self.unit.pk), ("site", self.unit.site_id)):
            pages = []
            for language in ("en", "de", "fr", "es"):
                self.choose(language)
                pages.append(self.client.get(reverse(name, args=[pk])).content.decode())
            pictures = [SVG.findall(page) for page in pages]
            with self.subTest(name=name):
                self.assertTrue(pictures[0])
                self.assertEqual([found == pictures[0] for found in pictures], [True] * 4)
