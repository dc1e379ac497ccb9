"""What other programs read: by a key, of their crew alone, a page at a time, and not too often."""

import datetime as dt
import json
from unittest.mock import patch

from django.test import Client, TestCase
from django.urls import reverse
from jsonschema import Draft202012Validator

from skavit.api import keys
from skavit.api.service import api
from skavit.core.formats import plan_schema
from skavit.core.ground.strict_json import Node
from skavit.core.kinds import shipped_kinds
from skavit.core.plan.document import read_plan
from skavit.crews.apps import REQUIRED
from skavit.crews.tests.builders import BAY, make_crew, make_unit, member
from skavit.due.services.planning import plan_visit
from skavit.exchange.calendars import coming
from skavit.kinds.services import add_kind
from skavit.server.now import read_now
from skavit.sites.services import save_site

NOW = int(dt.datetime(2026, 11, 10, 3, 0, tzinfo=dt.UTC).timestamp())


class ApiTest(TestCase):
    @classmethod
    def setUpTestData(cls):
        cls.crew = make_crew()
        cls.unit = make_unit(cls.crew)
        cls.other = make_unit(make_crew("Other crew"))
        cls.secret = keys.make_key(member(cls.crew, "owner"), "Accounts")

    def get(self, path, secret=None, **query):
        secret = self.secret if secret is None else secret
        return self.client.get(f"/api/{path}", query, headers={"Authorization": f"Bearer {secret}"})

    def test_nobody_and_a_wrong_key_are_refused_and_a_login_is_no_key(self):
        self.client.force_login(member(self.crew, "owner").user)
        for path in ("sites", f"units/{self.unit.pk}/plan", "due", "no-such"):
            for secret in ("", "no-such-key"):
                with self.subTest(path=path, secret=secret):
                    self.assertEqual(self.get(path, secret).status_code, 401)
        self.assertEqual(Client().get("/api/units").status_code, 401)

    def test_sites_and_units_are_those_of_the_crew(self):
        self.assertEqual([site["name"] for site in self.get("sites").json()["items"]], [self.unit.site.name])
        found = self.get("units").json()
        self.assertEqual((found["count"], [unit["id"] for unit in found["items"]]), (1, [self.unit.pk]))
        self.assertEqual(self.get(f"units/{self.unit.pk}").json(), found["items"][0])
        self.assertEqual(found["items"][0]["site"], self.unit.site_id)
        self.assertEqual(self.get("units", site=self.other.site_id).json()["items"], [])
        self.assertEqual(self.get(f"sites/{self.unit.site_id}").json()["timezone"], self.unit.site.timezone)

    def test_what_belongs_to_another_crew_is_not_there(self):
        for path in ("", "/plan", "/findings", "/next"):
            with self.subTest(path=path):
                self.assertEqual(self.get(f"units/{self.other.pk}{path}").status_code, 404)
        self.assertEqual(self.get(f"sites/{self.other.site_id}").status_code, 404)

    def test_lists_come_in_pages_and_no_page_is_larger_than_it_may_be(self):
        for number in range(4):
            save_site(member(self.crew), None, {"name": f"Site {number}", **BAY})
        first, second = (self.get("sites", limit=3, offset=offset).json() for offset in (0, 3))
        names = [site["name"] for site in first["items"] + second["items"]]
        self.assertEqual((first["count"], len(first["items"]), len(second["items"])), (5, 3, 2))
        self.assertEqual(names, sorted(set(names)))
        for asked in ({"limit": -1}, {"offset": -1}, {"limit": "many"}):
            with self.subTest(asked=asked):
                self.assertEqual(self.get("sites", **asked).status_code, 422)

    def test_a_place_that_no_list_has_is_refused_in_words(self):
        for query in ({"offset": "9" * 20}, {"offset": "-1"}, {"limit": "9" * 20}):
            for path in ("sites", "units", "due"):
                with self.subTest(path=path, query=query):
                    self.assertIn(self.get(path, **query).status_code, (200, 422))
        self.assertEqual(self.get("sites", offset="9" * 20).status_code, 422)
        self.client.force_login(member(self.crew).user)
        for query in ({"page": "9" * 20}, {"site": "9" * 20}, {"unit": "9" * 20}):
            with self.subTest(query=query):
                self.assertIn(self.client.get(reverse("changes"), query).status_code, (200, 404))
        self.assertEqual(self.client.get(reverse("round"), {"page": "9" * 20}).status_code, 200)

    def test_its_description_is_read_with_a_key_or_by_a_person(self):
        self.assertEqual(self.get("openapi.json").json()["info"]["title"], "Skavit")
        self.assertEqual(self.get("openapi.json", "no-such-key").status_code, 401)
        self.client.logout()
        self.assertRedirects(
            self.client.get(reverse("api-described")), f"{reverse('login')}?next={reverse('api-described')}"
        )
        self.client.force_login(member(self.crew, "viewer").user)
        self.assertEqual(self.client.get(reverse("api-described")).status_code, 200)

    def test_the_plan_is_a_plan_file(self):
        document = self.get(f"units/{self.unit.pk}/plan").json()
        Draft202012Validator(plan_schema()).validate(document)
        self.assertEqual(read_plan(Node(document)).content_hash(), self.unit.plan.content_hash())

    def test_findings_are_those_of_the_page(self):
        found = self.get(f"units/{self.unit.pk}/findings").json()
        self.assertTrue(found)
        self.client.force_login(member(self.crew, "viewer").user)
        page = self.client.get(reverse("unit", args=[self.unit.pk]))
        for finding in found:
            headline = finding["text"].split(". ")[0]
            with self.subTest(headline=headline):
                self.assertContains(page, headline)
                self.assertLessEqual(finding["first"], finding["last"])

    def test_the_next_switchings_are_those_of_the_replay_with_their_offset(self):
        with patch("skavit.api.service.read_now", return_value=NOW):
            found = self.get(f"units/{self.unit.pk}/next", days=3).json()
        expected = [period for period in coming(self.unit.plan, NOW, 3) if period[1] > NOW]
        self.assertTrue(found)
        self.assertEqual(
            [(dt.datetime.fromisoformat(one["on"]).timestamp(), one["output"]) for one in found],
            [(on, name) for on, _, name, _ in expected],
        )
        self.assertTrue(all(one["on"].endswith("+13:00") for one in found), found[0])  # New Zealand in summer
        self.assertEqual(self.get(f"units/{self.unit.pk}/next", days=9_999).status_code, 422)

    def test_what_is_due_says_who_goes_and_when(self):
        installer = member(self.crew)
        plan_visit(self.unit, installer, person=installer.user, date=dt.date(2027, 3, 1), note="", now=read_now())
        found = self.get("due").json()["items"]
        planned = next(due for due in found if due["sort"] == "planned")
        self.assertEqual(
            (planned["unit"], planned["person"], planned["planned"], planned["date"]),
            (self.unit.pk, installer.user.username, "2027-03-01", "2027-03-01"),
        )

    def test_a_key_that_is_taken_back_is_dead_at_once(self):
        self.client.force_login(member(self.crew, "owner").user)
        self.client.post(reverse("api-key-back", args=[self.crew.api_keys.get().pk]))
        self.client.logout()
        self.assertEqual(self.get("sites").status_code, 401)

    def test_too_many_questions_in_a_minute_are_refused_until_it_is_over(self):
        with patch("skavit.api.keys.read_now", return_value=NOW), patch("skavit.api.keys.A_MINUTE", 3):
            answers = [self.get("sites").status_code for _ in range(5)]
            refused = self.get("sites")
        self.assertEqual(answers, [200, 200, 200, 429, 429])
        self.assertEqual(refused.headers["Retry-After"], "60")
        with patch("skavit.api.keys.read_now", return_value=NOW + 60):
            self.assertEqual(self.get("sites").status_code, 200)

    def test_a_list_asks_the_database_the_same_however_long_it_is(self):
        with self.assertNumQueries(5):  # the key, its count twice, how many, the page
            self.get("units")
        kind = add_kind(member(self.crew), shipped_kinds()[0])
        for number in range(3):
            unit = make_unit(self.crew, name=f"Unit {number}")
            unit.kind = kind
            unit.save()
        with self.assertNumQueries(5):
            found = self.get("units").json()
        self.assertEqual([unit["kind"] for unit in found["items"]], ["", *[kind.name] * 3])

    def test_nothing_is_written_by_it(self):
        for path in ("sites", f"units/{self.unit.pk}", "due"):
            for method in (self.client.post, self.client.put, self.client.delete):
                answer = method(f"/api/{path}", headers={"Authorization": f"Bearer {self.secret}"})
                self.assertEqual(answer.status_code, 405)

    def test_every_answer_has_the_shape_that_is_described(self):
        self.client.force_login(member(self.crew, "viewer").user)
        described = json.loads(self.client.get(reverse("api-described")).content)
        self.assertEqual(described["paths"].keys(), api.get_openapi_schema()["paths"].keys())
        self.assertEqual(len(described["paths"]), 8)
        values = {"units": self.unit.pk, "sites": self.unit.site_id}
        for address, operations in described["paths"].items():
            path = address.removeprefix("/api/")
            answer = self.get(path.replace("{number}", str(values.get(path.split("/")[0]))))
            schema = operations["get"]["responses"]["200"]["content"]["application/json"]["schema"]
            with self.subTest(address=address):
                self.assertEqual(answer.status_code, 200, answer.content)
                Draft202012Validator({**schema, "components": described["components"]}).validate(answer.json())


class PageTest(TestCase):
    @classmethod
    def setUpTestData(cls):
        cls.crew = make_crew()

    def test_owners_make_keys_that_are_told_once(self):
        self.client.force_login(member(self.crew, "owner").user)
        page = self.client.post(reverse("api-key-make"), {"program": "Accounts"})
        kept = self.crew.api_keys.get()
        secret = page.context["secret"]
        self.assertContains(page, secret)
        self.assertNotIn(secret, kept.secret_hash)
        self.assertEqual(keys.Bearer().authenticate(None, secret), kept)
        again = self.client.get(reverse("api-page"))
        self.assertContains(again, "Accounts")
        self.assertContains(again, "not used yet")
        self.assertNotContains(again, secret)

    def test_a_key_without_a_name_is_refused_in_words(self):
        self.client.force_login(member(self.crew, "owner").user)
        self.assertContains(self.client.post(reverse("api-key-make"), {"program": " "}), REQUIRED, status_code=422)
        self.assertFalse(self.crew.api_keys.exists())

    def test_there_is_an_end_to_keys(self):
        self.client.force_login(member(self.crew, "owner").user)
        with patch("skavit.api.keys.MOST_KEYS", 1):
            self.client.post(reverse("api-key-make"), {"program": "One"})
            page = self.client.post(reverse("api-key-make"), {"program": "Two"}, follow=True)
        self.assertContains(page, "Accepted: one in place of another")
        self.assertEqual(self.crew.api_keys.count(), 1)

    def test_a_key_of_another_crew_is_not_taken_back(self):
        keys.make_key(member(self.crew, "owner"), "Accounts")
        self.client.force_login(member(make_crew("Other crew"), "owner").user)
        kept = self.crew.api_keys.get()
        self.assertEqual(self.client.post(reverse("api-key-back", args=[kept.pk])).status_code, 404)
        self.assertTrue(self.crew.api_keys.held().exists())
