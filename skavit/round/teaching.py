"""What an empty crew is shown: the way in three steps, and the picture that it leads to."""

from dataclasses import dataclass

from skavit.charts.year_sheet import year_sheet
from skavit.core.plan import Plan, read_plan
from skavit.core.reading import Node
from skavit.core.wording import Words
from skavit.crews.models import Crew
from skavit.now import this_year
from skavit.units.results import unit_year

OFF_THE_SHEET = -1000  # a cursor that no night has

# An invented path by the water: its morning ON comes after the sunrise OFF in midsummer.
EXAMPLE: Plan = read_plan(
    Node(
        {
            "format": "skavit-plan/1",
            "site": {"name": "A path", "latitude": -39.49, "longitude": 176.91, "timezone": "Pacific/Auckland"},
            "unit": {
                "entries": [
                    {"channels": [1], "action": "on", "at": "sunset+10"},
                    {"channels": [1], "action": "off", "at": "22:40"},
                    {"channels": [1], "action": "on", "at": "05:50"},
                    {"channels": [1], "action": "off", "at": "sunrise"},
                ]
            },
            "channels": [
                {
                    "name": "Lamps",
                    "windows": [{"from": "sunset+10", "to": "22:40"}, {"from": "05:50", "to": "sunrise"}],
                }
            ],
        }
    )
)


@dataclass(frozen=True, slots=True, kw_only=True)
class TeachingStep:
    """One of the steps of a first unit."""

    name: str
    says: str
    done: bool
    here: bool


def first_steps(crew: Crew, units: int) -> list[TeachingStep]:
    """The way of a first unit, with how far the crew is."""
    sites = crew.sites.exists()
    told = [
        ("The site", "Its name and where it lies: the sun and the clock changes follow.", sites),
        ("The unit", "What hangs there, and when each output is wanted on.", units > 0),
        ("The year", "Fit the entries, look at the year they run, key them in by the sheet.", False),
    ]
    here = next(index for index, (_, _, done) in enumerate(told) if not done)
    return [TeachingStep(name=n, says=s, done=d, here=i == here) for i, (n, s, d) in enumerate(told)]


def example_picture(words: Words) -> str:
    """The year of the example as an SVG element."""
    found = unit_year(EXAMPLE, this_year(EXAMPLE.site), words)
    return year_sheet(found.year_of(0), marks=[], cursor=OFF_THE_SHEET, today=None, words=words)
