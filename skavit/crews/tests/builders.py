"""Crews, people and units for tests. All of it is invented."""

from datetime import UTC, datetime
from unittest.mock import patch

from skavit.core.ground.strict_json import Node
from skavit.core.plan.document import read_plan
from skavit.core.tests.builders import document, entry, window
from skavit.crews.models import Crew, Membership, Role, User
from skavit.server.now import read_now
from skavit.sites.services import save_site
from skavit.units.services.revisions import edit
from skavit.units.services.units import create_unit

BAY = {"latitude": -39.49, "longitude": 176.91, "timezone": "Pacific/Auckland"}
TRAP = document(
    [window("sunset+10", "22:40"), window("05:50", "sunrise")],
    [entry("on", "sunset+10"), entry("off", "22:40"), entry("on", "05:50"), entry("off", "sunrise")],
    limits={"entries": 16, "limited_times": True},
)


def make_crew(name="Test crew"):
    """A crew with a person of each role, named after the crew and the role."""
    crew = Crew.objects.create(name=name)
    for role in Role.values:
        user = User.objects.create_user(username=f"{name} {role}", password="x")
        Membership.objects.create(crew=crew, user=user, role=role)
    return crew


def member(crew, role="installer"):
    return crew.memberships.get(role=role)


def make_unit(crew, plan=TRAP, site="Harbour walk", name="Path lights"):
    site = crew.sites.filter(name=site).first() or save_site(member(crew), None, {"name": site, **BAY})
    unit = create_unit(member(crew), site, name=name, whereabouts="", channels=["Lights"], now=read_now())
    if plan is not None:
        edit(unit, member(crew), unit.head.number, lambda _: read_plan(Node(plan)), "test plan", now=read_now())
    return unit


def stop_clock(case, instant):
    """For the time of a test it is just ``instant``, seconds of UTC, wherever the application asks."""
    stopped = patch("skavit.server.now.datetime", **{"now.return_value": datetime.fromtimestamp(instant, UTC)})
    stopped.start()
    case.addCleanup(stopped.stop)
