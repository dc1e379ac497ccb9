"""A watering unit for tests. All of it is invented."""

from skavit.core.kinds import shipped_kinds
from skavit.crews.tests.builders import member
from skavit.server.now import read_now
from skavit.sites.services import save_site
from skavit.units.services.units import create_unit

GARDEN = "garden-controller-eight-stations"


def kind_of(slug):
    return next(kind for kind in shipped_kinds() if kind.slug == slug)


def make_watering(crew, slug=GARDEN, name="Front garden"):
    """A unit of a kind that waters, with nothing in it yet."""
    who = member(crew)
    place = {"name": f"Orchard road {name}", "latitude": -39.6, "longitude": 176.85, "timezone": "Pacific/Auckland"}
    site = save_site(who, None, place)
    return create_unit(who, site, name=name, whereabouts="", channels=[], now=read_now(), kind=kind_of(slug))


LAWN = {
    "name": "Front lawn", "area": "120", "plant": "lawn, cool-season grass", "head": "rotors", "ground": "loam",
    "slope": "level, to 3 %", "density": "usual", "exposure": "usual",
}  # fmt: skip
SHRUBS = LAWN | {"name": "Shrubs", "area": "40", "plant": "shrubs and beds", "head": "drip lines"}
A = {"name": "A", "starts": "4:30 am, 5:50 am", "days_kind": "chosen", "days_chosen": ["tue", "thu", "sat"],
     "run_1": "18", "run_2": "24", "adjust": "100"}  # fmt: skip
