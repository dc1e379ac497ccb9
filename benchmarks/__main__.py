"""``python -m benchmarks``: the figures of the design that exist by now, each as a ratio or a time of this one run.

Everything here is invented data. A time is the least of several runs; a ratio compares two such times of the same run,
so that a slow machine changes both.
"""

import time
from collections.abc import Callable
from dataclasses import replace
from datetime import date, datetime, timedelta
from zoneinfo import ZoneInfo

import astral
import astral.sun
import numpy as np

from skavit.charts.year import Frame, Year
from skavit.charts.year_sheet import layers
from skavit.core.findings import audit
from skavit.core.fitting import fit
from skavit.core.ground.strict_json import Node
from skavit.core.plan.document import Plan, read_plan
from skavit.core.plan.times import day_number
from skavit.core.simulation.replay import replay
from skavit.core.site import almanac
from skavit.core.site.clock import standard_offsets_s
from skavit.core.sun.days import solar_position, sun_days

YEAR = 2027
FIRST, LAST = date(YEAR, 1, 1), date(YEAR, 12, 31)
ZONE = "Pacific/Auckland"
SITE = {"name": "x", "latitude": -39.49, "longitude": 176.91, "timezone": ZONE}


def best_s(run: Callable[[], object], times: int = 9) -> float:
    """The least seconds of several calls: what the machine does when nothing else disturbs it."""
    found = []
    for _ in range(times):
        start = time.perf_counter()
        run()
        found.append(time.perf_counter() - start)
    return min(found)


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


def sun_row() -> None:
    """A year of sun times against astral's sunrise and sunset."""
    days = np.arange(day_number(FIRST), day_number(LAST) + 1)
    offsets = standard_offsets_s(ZONE, days)
    observer = astral.Observer(SITE["latitude"], SITE["longitude"])
    zone = ZoneInfo(ZONE)

    def theirs() -> None:
        for n in range(days.size):
            when = FIRST + timedelta(days=n)
            astral.sun.sunrise(observer, when, tzinfo=zone)
            astral.sun.sunset(observer, when, tzinfo=zone)

    def cold() -> None:
        solar_position.ephemeris.cache_clear()
        sun_days(-39.49, 176.91, days, offsets)

    slow, warm = best_s(theirs, 9), best_s(lambda: sun_days(-39.49, 176.91, days, offsets), 60)
    print(f"year of sun times     {warm * 1e3:8.2f} ms   {slow / warm:6.1f} times faster than astral (at least 50)")
    first = best_s(cold, 40)
    print(f"  from cold           {first * 1e3:8.2f} ms   {slow / first:6.1f} times faster than astral (at least 20)")


def replay_rows() -> None:
    """A year's replay, its audit, and a fit."""
    for channels, entries, most in ((2, 16, 10), (4, 384, 60)):
        plan = plan_of(channels, entries)
        taken = best_s(lambda plan=plan: replay(plan, FIRST, LAST)) * 1e3
        print(f"replay {channels} ch {entries:3d} entries {taken:8.2f} ms   (at most {most})")
    result = replay(typical(), FIRST, LAST)
    print(f"audit 2 channels      {best_s(lambda: audit(result)) * 1e3:8.2f} ms   (at most 40)")
    print(f"fit 2 channels        {best_s(lambda: fit(typical(), YEAR), 3) * 1e3:8.2f} ms")


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


def program_rows() -> None:
    """Pulses drawn as a texture, and a fit of many windows."""
    plan = mist()
    taken = best_s(lambda: replay(plan, FIRST, LAST)) * 1e3
    print(f"8 s every 4 min, 9 h  {taken:8.2f} ms   (at most 60)")
    result = replay(plan, FIRST, LAST)
    channel = result.channels[0]
    year = Year(
        site=plan.site, clock=result.site_clock, first=result.first, count=365, wanted=channel.wanted,
        actual=channel.actual, pulsing=True,
    )  # fmt: skip
    frame = Frame(left=0, top=0, per_day=2.5, per_hour=11)
    drawn = best_s(lambda: layers(replace(year), frame, "x")) * 1e3
    size = len(layers(year, frame, "x"))
    print(f"  drawn as a texture  {drawn:8.2f} ms   {size / 1e3:.0f} kB of SVG for {len(channel.actual)} pulses")
    many = eight_windows()
    print(f"fit 8 windows 4 ch    {best_s(lambda: fit(many, YEAR), 3) * 1e3:8.2f} ms   (at most 1000)")


def main() -> None:
    """Print all rows."""
    print(f"{datetime.now().astimezone():%Y-%m-%d %H:%M}, least of several runs each")
    sun_row()
    almanac.almanac(typical().site, day_number(FIRST) - 400, day_number(LAST) + 400)
    replay_rows()
    program_rows()


if __name__ == "__main__":
    main()
