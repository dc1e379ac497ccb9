"""Years drawn without a unit: the example of an empty crew, and the sun of a place."""

from skavit.charts.year_sheet import OFF_THE_SHEET, year_sheet
from skavit.core.ground.arrays import DAY_S
from skavit.core.plan.document import Channel, Plan
from skavit.core.plan.document import Site as CoreSite
from skavit.core.text.wording import Words
from skavit.server.now import local_digits, year_at
from skavit.units import demo
from skavit.units.computing import unit_year

# The demo's path by the water: its morning ON comes after the sunrise OFF in midsummer.
EXAMPLE = demo.plan_of(demo.UNITS[0])


def example_picture(words: Words, now: int) -> str:
    """The year of the example as an SVG element."""
    found = unit_year(EXAMPLE, year_at(EXAMPLE.site, now))
    return year_sheet(found.year_of(0), marks=[], cursor=OFF_THE_SHEET, today=None, words=words)


def sun_year(site: CoreSite, words: Words, now: int) -> list[str]:
    """Night, twilight and day of a place through this year, with today in it: upright, and turned for the phone."""
    plan = Plan(site=site, channels=(Channel(name="Sun"),))
    year = unit_year(plan, year_at(site, now)).year_of(0)
    today = local_digits(plan, now) // DAY_S - year.first
    return [
        year_sheet(year, marks=[], cursor=OFF_THE_SHEET, today=today, words=words, turned=turned)
        for turned in (False, True)
    ]
