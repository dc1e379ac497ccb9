"""What an empty crew is shown: the way in three steps, and the picture that it leads to."""

from dataclasses import dataclass

from skavit.crews.models import Crew
from skavit.sites.selectors import sites_at_work
from skavit.units import demo

# The demo's path by the water: its morning ON comes after the sunrise OFF in midsummer.
EXAMPLE = demo.plan_of(demo.UNITS[0])


@dataclass(frozen=True, slots=True, kw_only=True)
class TeachingStep:
    """One of the steps of a first unit."""

    name: str
    says: str
    done: bool
    here: bool


def first_steps(crew: Crew) -> list[TeachingStep]:
    """The way of a first unit, with how far a crew is that has none yet."""
    sites = sites_at_work(crew).exists()
    told = [
        ("The site", "Its name and where it lies: the sun and the clock changes follow.", sites),
        ("The unit", "What hangs there, and when each output is wanted on.", False),
        ("The year", "Fit the entries, look at the year they run, key them in by the sheet.", False),
    ]
    here = next(index for index, (_, _, done) in enumerate(told) if not done)
    return [TeachingStep(name=n, says=s, done=d, here=i == here) for i, (n, s, d) in enumerate(told)]
