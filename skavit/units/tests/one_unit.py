"""One unit, and somebody of its crew who posts to its page."""

from django.test import TestCase
from django.urls import reverse

from skavit.crews.tests.builders import make_crew, make_unit, member
from skavit.units.models import Unit


class OneUnitCase(TestCase):
    """``make`` gives the unit of a crew."""

    @staticmethod
    def make(crew):
        return make_unit(crew)

    @classmethod
    def setUpTestData(cls):
        cls.crew = make_crew()
        cls.unit_pk = cls.make(cls.crew).pk

    def setUp(self):
        self.client.force_login(member(self.crew).user)

    @property
    def unit(self):
        return Unit.objects.select_related("site", "head").get(pk=self.unit_pk)

    def post(self, name, /, *args, revision=None, htmx=True, **data):
        sent = {"revision": self.unit.head.number if revision is None else revision, **data}
        return self.client.post(
            reverse(name, args=[self.unit_pk, *args]), sent, headers={"HX-Request": "true"} if htmx else {}
        )

    def page(self, name="unit", *args, **query):
        return self.client.get(reverse(name, args=[self.unit_pk, *args]), query)
