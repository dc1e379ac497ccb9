"""``python -m benchmarks``: the core's figures of the design that exist by now, told in A (:mod:`benchmarks.ruler`).

Everything here is invented data.
"""

import random
from dataclasses import replace
from datetime import datetime

import numpy as np

from benchmarks.ruler import FIRST, LAST, LATITUDE, LONGITUDE, YEAR, ZONE, Ruler, median_ms
from skavit.charts.year import Frame, Year
from skavit.charts.year_sheet import layers
from skavit.core.causes import find_causes, read_looks
from skavit.core.findings import audit
from skavit.core.fitting import fit
from skavit.core.ground.strict_json import Node
from skavit.core.heat.fitting import fit_heat
from skavit.core.heat.targets import targets
from skavit.core.load import load_remedies, volts
from skavit.core.plan.document import Plan, read_plan
from skavit.core.plan.load import Cable, Lamp, LampRun, Length, Load
from skavit.core.plan.times import day_number
from skavit.core.plan.window import Window
from skavit.core.simulation.replay import replay
from skavit.core.site import almanac
from skavit.core.site.clock import standard_offsets_s
from skavit.core.sun import solar_position, sun_days
from skavit.core.water.fitting import fit_water
from skavit.core.water.soil import average_season
from skavit.core.water.stack import Stack, stack

SITE = {"name": "x", "latitude": LATITUDE, "longitude": LONGITUDE, "timezone": ZONE}


def plan_of(channels: int, entries: int) -> Plan:
    """A plan with so many channels and entries in all, ON and OFF by turns."""
    days = ["daily", "weekdays", "weekends", ["mon", "wed", "fri"]]
    rows = []
    for n in range(entries):
        pair, channel = n // 2, n % channels + 1
        at = (
            ("sunset+10" if pair % 3 == 0 else f"{(5 * pair + 7) % 24:02d}:{pair % 60:02d}")
            if n % 2 == 0
            else ("sunrise" if pair % 3 == 0 else f"{(5 * pair + 8) % 24:02d}:{pair % 60:02d}")
        )
        rows.append({"channels": [channel], "action": "off" if n % 2 else "on", "at": at, "days": days[pair % 4]})
    wanted = [{"from": "sunset+10", "to": "sunrise", "days": "daily"}]
    raw = {
        "format": "skavit-plan/1",
        "site": SITE,
        "unit": {"entries": rows},
        "channels": [{"name": f"c{n}", "windows": wanted} for n in range(channels)],
    }
    return read_plan(Node(raw))


def typical() -> Plan:
    """Two channels and six entries that do what is wanted but for one flip."""

    def entry(action: str, at: str, channels: list[int]) -> dict[str, object]:
        return {"channels": channels, "action": action, "at": at, "days": "daily"}

    evening, morning = {"from": "sunset+10", "to": "22:40"}, {"from": "05:10", "to": "sunrise"}
    raw = {
        "format": "skavit-plan/1",
        "site": SITE,
        "unit": {
            "entries": [
                entry("on", "sunset+10", [1, 2]),
                entry("off", "22:40", [1, 2]),
                entry("on", "05:10", [1, 2]),
                entry("off", "sunrise", [1, 2]),
            ]
        },
        "channels": [{"name": "a", "windows": [evening, morning]}, {"name": "b", "windows": [evening, morning]}],
    }
    return read_plan(Node(raw))


def sun_rows(ruler: Ruler) -> None:
    """A year of five sun times a day, of one new place."""
    days = np.arange(day_number(FIRST), day_number(LAST) + 1)
    offsets = standard_offsets_s(ZONE, days)

    def cold() -> None:
        solar_position.ephemeris.cache_clear()
        sun_days(LATITUDE, LONGITUDE, days, offsets)

    ruler.row("year of sun times", median_ms(lambda: sun_days(LATITUDE, LONGITUDE, days, offsets), 60), 0.01)
    ruler.row("  from cold", median_ms(cold, 40), 0.025)


def replay_rows(ruler: Ruler) -> None:
    """A year's replay, its audit, and a fit."""
    for channels, entries, reach in ((2, 16, 0.05), (4, 384, 1.0)):
        plan = plan_of(channels, entries)
        ruler.row(
            f"replay, {channels} channels, {entries} entries",
            median_ms(lambda plan=plan: replay(plan, FIRST, LAST)),
            reach,
        )
    result = replay(typical(), FIRST, LAST)
    ruler.row("audit, 2 channels", median_ms(lambda: audit(result)), 0.15)
    ruler.row("fit, 2 channels", median_ms(lambda: fit(typical(), YEAR), 3))


def mist() -> Plan:
    """An 8-second pulse every four minutes for nine hours a day, keyed and wanted."""
    repeat = {"on_s": 8, "off_s": 232, "until": "17:00"}
    entry = {"channels": [1], "action": "on", "at": "08:00", "repeat": repeat}
    wanted = {"from": "08:00", "to": "17:00", "repeat": {"on_s": 8, "every_s": 240}}
    channels = [{"name": "Mist", "windows": [wanted]}]
    return read_plan(
        Node({"format": "skavit-plan/1", "site": SITE, "unit": {"entries": [entry]}, "channels": channels})
    )


def eight_windows() -> Plan:
    """Eight windows on four channels, for a unit with few day groups."""
    rows = [
        [("sunset+10", "22:40", ["mon", "wed", "fri"]), ("05:10", "sunrise", "weekdays")],
        [("18:00", "23:00", "weekdays"), ("19:00", "23:30", "weekends")],
        [("dusk", "01:00", ["fri", "sat"]), ("04:30", "dawn", ["tue", "thu", "sat"])],
        [("06:40", "08:10", "daily"), ("16:40", "18:10", "weekdays")],
    ]
    channels = [
        {"name": f"c{n}", "windows": [{"from": a, "to": b, "days": days} for a, b, days in windows]}
        for n, windows in enumerate(rows)
    ]
    limits = {"entries": 32, "day_groups": ["daily", "weekdays", "weekends", "single-days"]}
    return read_plan(Node({"format": "skavit-plan/1", "site": SITE, "unit": {"limits": limits}, "channels": channels}))


def program_rows(ruler: Ruler) -> None:
    """Pulses drawn as a texture, and a fit of many windows."""
    plan = mist()
    ruler.row("8 s every 4 min for 9 h, replay", median_ms(lambda: replay(plan, FIRST, LAST)), 0.9)
    result = replay(plan, FIRST, LAST)
    channel = result.channels[0]
    year = Year(
        site=plan.site, clock=result.site_clock, first=result.first, count=365, wanted=channel.wanted,
        actual=channel.actual, pulsing=True,
    )  # fmt: skip
    frame = Frame(left=0, top=0, per_day=2.5, per_hour=11)
    drawn, size = median_ms(lambda: layers(replace(year), frame, "x")), len(layers(year, frame, "x"))
    ruler.row("  drawn as a texture", drawn, tail=f"   {size / 1e3:.0f} kB of SVG for {len(channel.actual)} pulses")
    many = eight_windows()
    ruler.row("fit, 8 windows, 4 channels", median_ms(lambda: fit(many, YEAR), 3), 4)
    crowd = crowded()
    ruler.row("fit, 42 channels into 4 entries", median_ms(lambda: fit(crowd, YEAR), 1))


def crowded() -> Plan:
    """Forty-one channels of two windows and one of forty-two, in a memory of four entries."""
    chance = random.Random(1)

    def windows(count: int) -> list[dict[str, str]]:
        starts = [chance.randrange(1300) for _ in range(count)]
        ends = [start + chance.randrange(10, 120) for start in starts]
        days = ["daily", "weekdays", "weekends"]
        return [
            {"from": f"{a // 60:02d}:{a % 60:02d}", "to": f"{b // 60:02d}:{b % 60:02d}", "days": chance.choice(days)}
            for a, b in zip(starts, ends, strict=True)
            if b < 1440
        ]

    channels = [{"name": f"c{n}", "windows": windows(2 if n < 41 else 42)} for n in range(42)]
    limits = {"entries": 4, "day_groups": ["daily", "weekdays", "weekends"]}
    return read_plan(Node({"format": "skavit-plan/1", "site": SITE, "unit": {"limits": limits}, "channels": channels}))


def unlike(stations: int) -> Plan:
    """Stations with twelve crop values each, in three programs of a night."""
    plan = gardens(stations, 1)
    assert plan.water is not None
    crops = [tuple(0.4 + 0.1 * ((number * month + month) % 6) for month in range(12)) for number in range(stations)]
    rows = tuple(replace(s, crop=crop) for s, crop in zip(plan.water.stations, crops, strict=True))
    night = (Window.read(Node({"from": "21:00", "to": "06:00", "days": "daily", "ends": "next-day"})),)
    limits = replace(plan.water.limits, programs=3)
    return replace(plan, water=replace(plan.water, stations=rows, limits=limits, allowed=night, programs=()))


def gardens(stations: int, programs: int) -> Plan:
    """Stations of a controller with an average year, in programs of every third day with two starts each."""
    soil = {"available_mm_m": 130, "root_m": 0.25, "depletion": 0.5, "intake_mm_h": 12, "surface_mm": 6}
    rows = [
        {"name": f"s{n}", "flow_l_min": 20 + n, "rate_mm_h": 9 + n / 2, "du": 0.7, "crop": 0.5 + n / 100, "soil": soil}
        for n in range(stations)
    ]
    each = stations // programs
    keyed = [
        {
            "name": "ABCDEFGH"[p],
            "days": {"every": 3, "from": f"{YEAR}-01-01"},
            "starts": [f"{2 * p:02d}:00", f"{12 + 2 * p}:00"],
            "runs": [{"station": p * each + n + 1, "run_min": 8} for n in range(each)],
        }
        for p in range(programs)
    ]
    climate = {
        "et0_mm_day": [5.6, 5.0, 3.8, 2.4, 1.5, 1.0, 1.1, 1.6, 2.5, 3.6, 4.6, 5.3],
        "rain_mm_day": [1.6, 1.9, 2.2, 2.3, 2.6, 2.7, 3.0, 2.4, 2.0, 1.8, 1.8, 1.7],
    }
    water = {"stations": rows, "programs": keyed, "climate": climate, "limits": {"programs": 4, "starts": 4}}
    return read_plan(Node({"format": "skavit-plan/1", "site": SITE, "water": water}))


def water_rows(ruler: Ruler) -> None:
    """A season of 48 stations, its replay alone, its audit, and a fit of eight."""
    plan = gardens(48, 4)
    assert plan.water is not None
    climate = plan.water.climate
    assert climate is not None

    def run() -> Stack:
        found = stack(replay(plan, FIRST, LAST))
        assert found is not None
        return found

    ruler.row("season, 48 stations, 4 programs", median_ms(lambda: average_season(run(), climate)), 8)
    ruler.row("  its replay alone", median_ms(lambda: run().stations), 1)
    result = replay(plan, FIRST, LAST)
    ruler.row("  its audit", median_ms(lambda: audit(result), 3))
    ruler.row("fit of water, 8 stations", median_ms(lambda: fit_water(gardens(8, 4), YEAR), 3))
    for stations, reach in ((12, 100), (48, None), (200, None)):
        plan = unlike(stations)
        ruler.row(f"  {stations} stations of unlike months", median_ms(lambda p=plan: fit_water(p, YEAR), 1), reach)


def four_zones() -> Plan:
    """Four zones with four set points on each day of the week: 28 each."""
    week = ("mon", "tue", "wed", "thu", "fri", "sat", "sun")
    points = [
        {"days": [day], "at": f"{hour:02d}:{place}0", "c": 15 + (hour + place) % 7}
        for place, day in enumerate(week[:6])
        for hour in (6, 9, 16, 22)
    ] + [{"days": ["sun"], "at": f"{hour:02d}:05", "c": 18} for hour in (7, 10, 15, 21)]
    zones = [{"name": f"Zone {n}", "wanted": points, "keyed": points} for n in range(1, 5)]
    site = {"name": "Bench", "latitude": -39.6, "longitude": 176.8, "timezone": "Pacific/Auckland"}
    return read_plan(
        Node({"format": "skavit-plan/1", "site": site, "channels": [], "heat": {"frost_c": 5, "zones": zones}})
    )


def heat_rows(ruler: Ruler) -> None:
    """A year of four zones, its audit, a fit; and the volts of sixty lamps."""
    plan = four_zones()

    def warmed() -> object:
        return targets(replay(plan, FIRST, LAST))

    ruler.row("year of four zones, 28 set points each", median_ms(warmed), 0.5)
    ruler.row("its audit", median_ms(lambda: audit(replay(plan, FIRST, LAST))))
    ruler.row("its fit, proof included", median_ms(lambda: fit_heat(plan, YEAR), 3))
    lengths = (*(Length(a=n, b=n + 1, m=3.0) for n in range(60)), Length(a=60, b=0, m=90.0))
    lamps = (Lamp(va=3.0),) * 60
    run = LampRun(supply_v=12.0, cable=Cable(mm2=4.0), lamps=lamps, cables=lengths)
    ruler.row("volts of 60 lamps on a loop", median_ms(lambda: volts(run)), 0.2)
    load = Load(run=run, low_v=11.0, taps_v=(12.0, 13.0, 14.0))
    ruler.row("what mends it", median_ms(lambda: load_remedies(load), 3))


def cause_rows(ruler: Ruler) -> None:
    """Causes of a fault from five looks at a lamp that is an hour late."""
    seen = (("05:55", "04:55"), ("12:20", "11:20"), ("17:45", "16:45"), ("22:50", "21:50"), ("23:50", "22:50"))
    outputs = [[None, None], [False, None], [False, None], [True, None], [False, None]]
    looks = [
        {"at": f"{YEAR}-05-11T{at}", "shows": shows, "outputs": each}
        for (at, shows), each in zip(seen, outputs, strict=True)
    ]
    plan = typical()
    read = read_looks(Node({"looks": looks}), plan)
    ruler.row("causes of a fault from five looks", median_ms(lambda: find_causes(plan, read), 5), 6)


def main() -> None:
    """Print all rows."""
    print(f"{datetime.now().astimezone():%Y-%m-%d %H:%M}, medians of several runs each")
    ruler = Ruler()
    sun_rows(ruler)
    almanac.almanac(typical().site, day_number(FIRST) - 400, day_number(LAST) + 400)
    replay_rows(ruler)
    program_rows(ruler)
    water_rows(ruler)
    heat_rows(ruler)
    cause_rows(ruler)


if __name__ == "__main__":
    main()
