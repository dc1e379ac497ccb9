"""The command line of the core: ``python -m skavit.core sun|replay|audit|repair|fit|reading|handover|et0|season|warmup|reheat|volts|causes|kinds|kind|sheet|play`` prints JSON on standard output.

Bad input gives exit status 2 and one line on standard error that names the path and what is accepted.
"""

import argparse
import io
import json
import os
import sys
from collections.abc import Iterator
from typing import NoReturn

from skavit.core.calls import kinds, plans, sums
from skavit.core.ground.errors import UserError
from skavit.core.site.sun_table import Meaning
from skavit.core.water.weather_fit import DRY_DAYS

WARM_UP = ("--loss-w-k", "--capacity-wh-k", "--heater-w", "--outside-c", "--from-c", "--to-c")
REHEAT = ("--litres", "--from-c", "--to-c", "--heater-w")


class _Parser(argparse.ArgumentParser):
    """A parser whose complaint is one line."""

    def error(self, message: str) -> NoReturn:
        raise UserError(message)


def _arguments(words: list[str]) -> argparse.Namespace:
    parser = _Parser(prog="python -m skavit.core", description=__doc__)
    calls = parser.add_subparsers(dest="call", required=True, parser_class=_Parser)
    for name in ("sun", "reading"):
        place = calls.add_parser(name)
        place.add_argument("--latitude", required=True)
        place.add_argument("--longitude", required=True)
        place.add_argument("--timezone", required=True)
    for name in ("replay", "audit", "repair", "fit", "handover", "season", "causes"):
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
    for name in ("sun", "replay", "audit", "repair"):
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
    for name in ("et0", "season", "fit"):
        calls.choices[name].add_argument("--weather", required=name != "fit")
        calls.choices[name].add_argument("--altitude", default="0")
    calls.choices["fit"].add_argument("--dry-days", default=str(DRY_DAYS))
    reading = calls.choices["reading"]
    reading.add_argument("--reading", action="append", required=True, metavar="DATE,SUNRISE,SUNSET")
    reading.add_argument("--events", default=Meaning.SUNRISE.value)
    return parser.parse_args(words)


CALLS = {
    "sun": sums.sun_call,
    "replay": plans.replay_call,
    "audit": plans.audit_call,
    "repair": plans.repair_call,
    "fit": plans.fit_call,
    "reading": sums.reading_call,
    "handover": plans.handover_call,
    "et0": sums.et0_call,
    "season": plans.season_call,
    "warmup": sums.warmup_call,
    "reheat": sums.reheat_call,
    "volts": sums.volts_call,
    "causes": plans.causes_call,
    "kinds": kinds.kinds_call,
    "kind": kinds.kind_call,
    "sheet": kinds.sheet_call,
    "play": kinds.play_call,
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
