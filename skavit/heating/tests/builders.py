"""A unit that holds temperatures, for tests. All of it is invented."""

from skavit.crews.tests.builders import member
from skavit.server.now import read_now
from skavit.sites.services import save_site
from skavit.units.services.units import create_unit
from skavit.watering.tests.builders import kind_of

THERMOSTAT = "room-thermostat-four-periods"


def make_heating(crew, slug=THERMOSTAT, name="Reading room"):
    """A unit of a kind that holds temperatures, with nothing in it yet."""
    who = member(crew)
    place = {"name": f"Lantern lane {name}", "latitude": -39.6, "longitude": 176.85, "timezone": "Pacific/Auckland"}
    site = save_site(who, None, place)
    return create_unit(who, site, name=name, whereabouts="", channels=[], now=read_now(), kind=kind_of(slug))


WORKDAYS = {"days_kind": "weekdays", "at_1": "7:10", "c_1": "20.5", "at_2": "21:40", "c_2": "15"}
WEEKENDS = {"days_kind": "weekends", "at_1": "9:00", "c_1": "19", "at_2": "22:30", "c_2": "15"}
