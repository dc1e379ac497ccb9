"""The command line of the core: ``python -m skavit.core sun|replay|audit|fit|reading|handover|et0|season|warmup|reheat|volts|causes|kinds|kind|sheet|play`` prints JSON on standard output.

Bad input gives exit status 2 and one line on standard error that names the path and what is accepted.
"""

import argparse
import io
import json
import os
import sys
from collections.abc import Iterator
from datetime import UTC, date, datetime
from pathlib import Path
from typing import Any, NoReturn

import numpy as np

from skavit.core.causes import find_causes, read_looks
from skavit.core.findings.tolerance import audit_within
from skavit.core.fitting import fit
from skavit.core.formats import (
    audit_json,
    causes_json,
    et0_json,
    fit_json,
    handover_json,
    heat_fit_json,
    iso,
    played_json,
    reading_json,
    replay_text,
    season_json,
    sheet_json,
    water_fit_json,
)
from skavit.core.ground.arrays import DAY_S
from skavit.core.ground.errors import PlanError, UserError, quoted
from skavit.core.ground.strict_json import MAX_BYTES, Node, parse_json
from skavit.core.ground.zones import timezones
from skavit.core.heat.fitting import fit_heat
from skavit.core.heat.room import warm_up_min
from skavit.core.heat.store import reheat
from skavit.core.heat.targets import targets
from skavit.core.kinds import Kind, parse_kind, shipped_kinds
from skavit.core.kinds.place import plan_for_kind
from skavit.core.load import volts
from skavit.core.plan.document import Plan, Site, parse_plan
from skavit.core.plan.heat import MAX_CAPACITY_WH_K, MAX_HEATER_W, MAX_LOSS_W_K, Room
from skavit.core.plan.load import LampRun
from skavit.core.plan.times import day_of, read_date, read_local_datetime
from skavit.core.sheet import steps, steps_of_changes
from skavit.core.simulation.handover import handover
from skavit.core.simulation.replay import check_range, replay
from skavit.core.site.almanac import almanac
from skavit.core.site.clock import WallClock, zone_clock
from skavit.core.site.sun_table import Meaning, read_sun_reading, read_table
from skavit.core.sun import SunEvent
from skavit.core.text.wording import PLAIN
from skavit.core.water.et0 import et0
from skavit.core.water.fitting import fit_water
from skavit.core.water.soil import season_of
from skavit.core.water.stack import stack
from skavit.core.water.weather import Weather, read_weather

MOST_TOLERANCE_MIN = 120
ALTITUDES_M = (-450, 9_000)  # from the shore of the Dead Sea to above the highest ground


WARM_UP = ("--loss-w-k", "--capacity-wh-k", "--heater-w", "--outside-c", "--from-c", "--to-c")
REHEAT = ("--litres", "--from-c", "--to-c", "--heater-w")
TEMPERATURES_C = (-90, 200)
MAX_LITRES = 1_000_000


class _Parser(argparse.ArgumentParser):
    """A parser whose complaint is one line."""

    def error(self, message: str) -> NoReturn:
        raise UserError(message)


def _date(text: str, flag: str) -> date:
    return read_date(Node(text, flag))


def _bytes_of(path: str, what: str) -> bytes:
    try:
        with Path(path).open("rb") as file:
            return file.read(MAX_BYTES + 1)
    except OSError as error:
        raise UserError(f"{quoted(path)}: {error.strerror}; accepted: a readable {what}") from error


def _load(path: str) -> Plan:
    return parse_plan(_bytes_of(path, "plan file"))


def _weather(path: str) -> Weather:
    return read_weather(_bytes_of(path, "weather file"))


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


def _arguments(words: list[str]) -> argparse.Namespace:
    parser = _Parser(prog="python -m skavit.core", description=__doc__)
    calls = parser.add_subparsers(dest="call", required=True, parser_class=_Parser)
    for name in ("sun", "reading"):
        place = calls.add_parser(name)
        place.add_argument("--latitude", required=True)
        place.add_argument("--longitude", required=True)
        place.add_argument("--timezone", required=True)
    for name in ("replay", "audit", "fit", "handover", "season", "causes"):
        calls.add_parser(name).add_argument("plan")
    calls.choices["fit"].add_argument("--kind")
    calls.add_parser("kinds")
    calls.add_parser("kind").add_argument("slug")
    sheet, play = calls.add_parser("sheet"), calls.add_parser("play")
    sheet.add_argument("plan")
    sheet.add_argument("--kind", required=True)
    sheet.add_argument("--at", required=True)
    sheet.add_argument("--before")
    play.add_argument("kind")
    play.add_argument("--sheet", required=True)
    play.add_argument("--from", dest="before")
    for name in ("sun", "replay", "audit"):
        calls.choices[name].add_argument("--from", dest="first", required=True)
        calls.choices[name].add_argument("--to", dest="last", required=True)
    calls.choices["handover"].add_argument("--at", required=True)
    calls.choices["causes"].add_argument("--looks", required=True)
    for flag in ("--clock-min", "--sun-min"):
        calls.choices["audit"].add_argument(flag, default="0")
    for name, needed, optional in (("warmup", WARM_UP, ()), ("reheat", REHEAT, ("--loss-w",))):
        call = calls.add_parser(name)
        for flag in needed:
            call.add_argument(flag, required=True)
        for flag in optional:
            call.add_argument(flag, default="0")
    calls.add_parser("volts").add_argument("run")
    calls.add_parser("et0").add_argument("--latitude", required=True)
    for name in ("et0", "season"):
        calls.choices[name].add_argument("--weather", required=True)
        calls.choices[name].add_argument("--altitude", default="0")
    reading = calls.choices["reading"]
    reading.add_argument("--reading", action="append", required=True, metavar="DATE,SUNRISE,SUNSET")
    reading.add_argument("--events", default=Meaning.SUNRISE.value)
    return parser.parse_args(words)


def _degrees(text: str, flag: str, limit: float) -> float:
    return _number(text, flag, "degrees", -limit, limit)


def _number(text: str, flag: str, what: str, low: float, high: float) -> float:
    try:
        value = float(text)
    except ValueError:
        Node(text, flag).refuse(f"{what} from {low:g} to {high:g}")
    return Node(value, flag).number(low, high)


def _site(options: argparse.Namespace) -> Site:
    if options.timezone not in timezones():
        Node(options.timezone, "--timezone").refuse("a zone name such as Pacific/Auckland")
    return Site(
        name="-",
        latitude=_degrees(options.latitude, "--latitude", 90),
        longitude=_degrees(options.longitude, "--longitude", 180),
        timezone=options.timezone,
    )


def _run_sun(options: argparse.Namespace) -> Any:
    return sun_rows(_site(options), _date(options.first, "--from"), _date(options.last, "--to"))


def _run_reading(options: argparse.Namespace) -> Any:
    node = Node(options.events, "--events")
    meaning = Meaning(node.choice([meaning.value for meaning in Meaning]))
    readings = tuple(read_sun_reading(Node(text, f"--reading[{index}]")) for index, text in enumerate(options.reading))
    return reading_json(read_table(_site(options), readings, meaning))


def _run_replay(options: argparse.Namespace) -> Any:
    run = replay(_load(options.plan), _date(options.first, "--from"), _date(options.last, "--to"))
    return replay_text(run, stack(run), targets(run))


def _run_audit(options: argparse.Namespace) -> Any:
    first, last = _date(options.first, "--from"), _date(options.last, "--to")
    clock_min, sun_min = (_minutes(getattr(options, name), name) for name in ("clock_min", "sun_min"))
    return audit_json(audit_within(_load(options.plan), first, last, clock_min=clock_min, sun_min=sun_min))


def _minutes(text: str, name: str) -> int:
    flag = "--" + name.replace("_", "-")
    if not text.isascii() or not text.isdigit():
        Node(text, flag).refuse(f"whole minutes from 0 to {MOST_TOLERANCE_MIN}")
    return Node(int(text), flag).integer(0, MOST_TOLERANCE_MIN)


def _run_fit(options: argparse.Namespace) -> Any:
    # The one place in the core where the day is read: the proof covers this year and the next.
    plan, year = _load(options.plan), datetime.now(tz=UTC).year
    if options.kind is not None:
        plan = plan_for_kind(plan, _kind(options.kind))
    found = fit_json(fit(plan, year))
    if plan.water is not None and plan.water.climate is not None:
        watered = fit_water(plan, year)
        found["plan"]["water"] = watered.plan.to_json()["water"]
        found["fit"] += water_fit_json(watered)
    if plan.heat is not None:
        heated = fit_heat(plan, year)
        found["plan"]["heat"] = heated.plan.to_json()["heat"]
        found["fit"] += heat_fit_json(heated)
    return found


def _instant(plan: Plan, options: argparse.Namespace) -> int:
    """The instant at which the site's clock shows ``--at``."""
    digits = read_local_datetime(Node(options.at, "--at"))
    year = day_of(digits // DAY_S).year
    clock = zone_clock(plan.site.timezone, year - 1, year + 1)
    return int(clock.first(np.array([digits]))[0])


def _run_handover(options: argparse.Namespace) -> Any:
    plan = _load(options.plan)
    return handover_json(handover(plan, _instant(plan, options)), plan)


def _shipped() -> dict[str, Kind]:
    return {kind.slug: kind for kind in shipped_kinds()}


def _kind(word: str) -> Kind:
    """A kind that ships, by its slug, or one from a file."""
    return _shipped().get(word) or parse_kind(_bytes_of(word, "kind file, or the slug of a kind: see kinds"))


def _run_kinds(_: argparse.Namespace) -> Any:
    return list(_shipped())


def _run_kind(options: argparse.Namespace) -> Any:
    kind = _shipped().get(options.slug)
    return kind.to_json() if kind else Node(options.slug, "SLUG").refuse("one of those that kinds prints")


def _run_sheet(options: argparse.Namespace) -> Any:
    plan, kind = _load(options.plan), _kind(options.kind)
    was = None if options.before is None else _load(options.before)
    for each in (plan, was):
        if each is not None and each.trade is not kind.trade:
            raise PlanError(each.trade.key, f"this unit {each.trade.does}", f"a plan for a kind that {kind.trade.does}")
    instant = _instant(plan, options)

    def occasion(of: Plan) -> tuple[Any, ...]:
        year = day_of(instant // DAY_S).year
        run = replay(of, date(year, 1, 1), date(year, 12, 31))
        return of, run, handover(of, instant), instant, PLAIN, kind

    if was is None:
        return sheet_json(steps(*occasion(plan)))
    return sheet_json(steps_of_changes(was, steps(*occasion(was)), *occasion(plan)))


def _run_play(options: argparse.Namespace) -> Any:
    kind = _kind(options.kind)
    sheet = Node(parse_json(_bytes_of(options.sheet, "file that sheet printed")))
    before = None if options.before is None else Node(parse_json(_bytes_of(options.before, "file that play printed")))
    return played_json(kind, sheet, before)


def _altitude(options: argparse.Namespace) -> float:
    return _number(options.altitude, "--altitude", "metres", *ALTITUDES_M)


def _run_et0(options: argparse.Namespace) -> Any:
    weather = _weather(options.weather)
    return et0_json(weather, et0(weather, _degrees(options.latitude, "--latitude", 90), _altitude(options)))


def _run_season(options: argparse.Namespace) -> Any:
    plan = _load(options.plan)
    found = season_of(plan, _weather(options.weather), _altitude(options))
    return season_json(found, plan.water.stations if plan.water else ())


def _amount(options: argparse.Namespace, flag: str, most: float, *, least: float = 0) -> float:
    """A quantity above ``least``."""
    text = getattr(options, flag.removeprefix("--").replace("-", "_"))
    found = _number(text, flag, "a number", least, most)
    return found if found > least else Node(found, flag).refuse(f"a number above {least:g}, up to {most:g}")


def _temperature(options: argparse.Namespace, flag: str) -> float:
    return _number(getattr(options, flag.removeprefix("--").replace("-", "_")), flag, "degrees", *TEMPERATURES_C)


def _run_warmup(options: argparse.Namespace) -> Any:
    room = Room(
        loss_w_k=_number(options.loss_w_k, "--loss-w-k", "watts a kelvin", 0, MAX_LOSS_W_K),
        capacity_wh_k=_amount(options, "--capacity-wh-k", MAX_CAPACITY_WH_K),
        heater_w=_number(options.heater_w, "--heater-w", "watts", 0, MAX_HEATER_W),
    )
    outside, start, aim = (_temperature(options, flag) for flag in ("--outside-c", "--from-c", "--to-c"))
    return {"minutes": warm_up_min(room, outside, start, aim)}


def _run_reheat(options: argparse.Namespace) -> Any:
    found = reheat(
        _amount(options, "--litres", MAX_LITRES),
        _temperature(options, "--from-c"),
        _temperature(options, "--to-c"),
        _number(options.heater_w, "--heater-w", "watts", 0, MAX_HEATER_W),
        _number(options.loss_w, "--loss-w", "watts", 0, MAX_HEATER_W),
    )
    return {"minutes": found.minutes, "kwh": found.kwh, "stored_kwh": found.stored_kwh}


def _run_volts(options: argparse.Namespace) -> Any:
    found = volts(LampRun.read(Node(parse_json(_bytes_of(options.run, "file of lamps")))))
    return {"volts": found.lamps.tolist(), "supply_a": found.supply_a, "va": found.va}


def _run_causes(options: argparse.Namespace) -> Any:
    plan = _load(options.plan)
    looks = read_looks(Node(parse_json(_bytes_of(options.looks, "file of looks"))), len(plan.channels))
    return causes_json(find_causes(plan, looks))


CALLS = {
    "sun": _run_sun,
    "replay": _run_replay,
    "audit": _run_audit,
    "fit": _run_fit,
    "reading": _run_reading,
    "handover": _run_handover,
    "et0": _run_et0,
    "season": _run_season,
    "warmup": _run_warmup,
    "reheat": _run_reheat,
    "volts": _run_volts,
    "causes": _run_causes,
    "kinds": _run_kinds,
    "kind": _run_kind,
    "sheet": _run_sheet,
    "play": _run_play,
}


def main(words: list[str]) -> int:
    """Run one call; gives the exit status."""
    try:
        options = _arguments(words)
        result = CALLS[options.call](options)
    except UserError as error:
        print(error, file=sys.stderr)
        return 2
    try:
        for part in result if isinstance(result, Iterator) else [json.dumps(result, ensure_ascii=False)]:
            sys.stdout.write(part)
        print(flush=True)
    except BrokenPipeError:
        # Whoever read has enough. What is left in the buffer goes nowhere, so that nothing is said of it at the exit.
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        return 1
    return 0


def _speak_utf8() -> None:
    """JSON is UTF-8, whatever the terminal's own encoding (RFC 8259, section 8.1)."""
    for stream in (sys.stdout, sys.stderr):
        if isinstance(stream, io.TextIOWrapper):
            stream.reconfigure(encoding="utf-8", errors="backslashreplace")


if __name__ == "__main__":
    _speak_utf8()
    sys.exit(main(sys.argv[1:]))
