"""The order of a day's places: always on to the nearest that is left. Roads are not known; distances are as the crow flies.

Great circles on a sphere of the mean Earth radius, by the haversine formula (R. W. Sinnott, "Virtues of the Haversine",
Sky and Telescope 68, 1984).
"""

from collections.abc import Sequence
from math import asin, cos, radians, sin, sqrt

EARTH_KM = 6371.0088  # the mean radius R1 of the IUGG (Moritz, Geodetic Reference System 1980)

Place = tuple[float, float]  # degrees north and east


def distance_km(a: Place, b: Place) -> float:
    """Kilometres between two places."""
    north, east = radians(b[0] - a[0]), radians(b[1] - a[1])
    h = sin(north / 2) ** 2 + cos(radians(a[0])) * cos(radians(b[0])) * sin(east / 2) ** 2
    return 2 * EARTH_KM * asin(min(1.0, sqrt(h)))


def nearest_first(places: Sequence[Place], first: int = 0) -> tuple[tuple[int, float], ...]:
    """(place, kilometres from the one before) of each place, from ``first`` always to the nearest that is left."""
    left = [index for index in range(len(places)) if index != first]
    found: list[tuple[int, float]] = [(first, 0.0)] if places else []
    while left:
        here = places[found[-1][0]]
        away, following = min((distance_km(here, places[index]), index) for index in left)
        left.remove(following)
        found.append((following, away))
    return tuple(found)
