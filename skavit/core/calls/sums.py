"""Calls that need no plan: the sun, a reading of it, ET0, warming and reheating, volts along a cable."""

import argparse
from datetime import date
from typing import Any

import numpy as np

from skavit.core.calls.given import altitude_of, bytes_of, date_of, degrees, load_weather, number, site_of
from skavit.core.formats import et0_json, iso, reading_json
from skavit.core.ground.strict_json import Node, parse_json
from skavit.core.heat.room import warm_up_min
from skavit.core.heat.store import reheat
from skavit.core.load import volts
from skavit.core.plan.document import Site
from skavit.core.plan.heat import MAX_CAPACITY_WH_K, MAX_HEATER_W, MAX_LOSS_W_K, Room
from skavit.core.plan.load import LampRun
from skavit.core.plan.times import day_of
from skavit.core.simulation.replay import check_range
from skavit.core.site.almanac import almanac
from skavit.core.site.clock import WallClock, zone_clock
from skavit.core.site.sun_table import Meaning, read_sun_reading, read_table
from skavit.core.sun import SunEvent
from skavit.core.water.et0 import et0

TEMPERATURES_C = (-90, 200)
MAX_LITRES = 1_000_000


def sun_call(options: argparse.Namespace) -> Any:
    """Return what ``sun`` prints."""
    return sun_rows(site_of(options), date_of(options.first, "--from"), date_of(options.last, "--to"))


def sun_rows(site: Site, first: date, last: date) -> list[dict[str, Any]]:
    """Sun times of each date as the command line prints them."""
    low, high = check_range(first, last)
    book = almanac(site, low, high)
    clock: WallClock = zone_clock(site.timezone, first.year - 1, last.year + 1)
    rows = []
    for row in range(*book.rows(low, high).indices(book.calendar.days.size)):
        instants = np.array([*book.sun.times[:, row], book.sun.noon[row]])
        *events, noon = iso(instants, clock)
        found: dict[str, Any] = {
            "date": day_of(int(book.calendar.days[row])).isoformat(),
            "kind": book.sun.kind(row),
            "noon": noon,
        }
        for event in SunEvent:
            found[event.name.lower()] = events[event] if book.sun.crosses[event, row] else None
        rows.append(found)
    return rows


def reading_call(options: argparse.Namespace) -> Any:
    """Return what ``reading`` prints."""
    node = Node(options.events, "--events")
    meaning = Meaning(node.choice([meaning.value for meaning in Meaning]))
    readings = tuple(read_sun_reading(Node(text, f"--reading[{index}]")) for index, text in enumerate(options.reading))
    return reading_json(read_table(site_of(options), readings, meaning))


def et0_call(options: argparse.Namespace) -> Any:
    """Return what ``et0`` prints."""
    weather = load_weather(options.weather)
    return et0_json(weather, et0(weather, degrees(options.latitude, "--latitude", 90), altitude_of(options)))


def _amount(options: argparse.Namespace, flag: str, most: float, *, least: float = 0) -> float:
    """A quantity above ``least``."""
    text = getattr(options, flag.removeprefix("--").replace("-", "_"))
    found = number(text, flag, "a number", least, most)
    return found if found > least else Node(found, flag).refuse(f"a number above {least:g}, up to {most:g}")


def _temperature(options: argparse.Namespace, flag: str) -> float:
    return number(getattr(options, flag.removeprefix("--").replace("-", "_")), flag, "degrees", *TEMPERATURES_C)


def warmup_call(options: argparse.Namespace) -> Any:
    """Return what ``warmup`` prints."""
    room = Room(
        loss_w_k=number(options.loss_w_k, "--loss-w-k", "watts a kelvin", 0, MAX_LOSS_W_K),
        capacity_wh_k=_amount(options, "--capacity-wh-k", MAX_CAPACITY_WH_K),
        heater_w=number(options.heater_w, "--heater-w", "watts", 0, MAX_HEATER_W),
    )
    outside, start, aim = (_temperature(options, flag) for flag in ("--outside-c", "--from-c", "--to-c"))
    return {"minutes": warm_up_min(room, outside, start, aim)}


def reheat_call(options: argparse.Namespace) -> Any:
    """Return what ``reheat`` prints."""
    found = reheat(
        _amount(options, "--litres", MAX_LITRES),
        _temperature(options, "--from-c"),
        _temperature(options, "--to-c"),
        number(options.heater_w, "--heater-w", "watts", 0, MAX_HEATER_W),
        number(options.loss_w, "--loss-w", "watts", 0, MAX_HEATER_W),
    )
    return {"minutes": found.minutes, "kwh": found.kwh, "stored_kwh": found.stored_kwh}


def volts_call(options: argparse.Namespace) -> Any:
    """Return what ``volts`` prints."""
    found = volts(LampRun.read(Node(parse_json(bytes_of(options.run, "file of lamps")))))
    return {"volts": found.lamps.tolist(), "supply_a": found.supply_a, "va": found.va}
