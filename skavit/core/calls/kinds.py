"""Calls for kinds: which ship, the file of one, a sheet for one, and its keys played on the keypad."""

import argparse
from datetime import date
from typing import Any

from skavit.core.calls.given import bytes_of, instant_of, load_plan
from skavit.core.formats import played_json, sheet_json
from skavit.core.ground.arrays import DAY_S
from skavit.core.ground.errors import PlanError
from skavit.core.ground.strict_json import Node, parse_json
from skavit.core.kinds import Kind, parse_kind, shipped_kinds
from skavit.core.plan.document import Plan
from skavit.core.plan.times import day_of
from skavit.core.sheet import steps, steps_of_changes
from skavit.core.simulation.handover import handover
from skavit.core.simulation.replay import replay
from skavit.core.text.wording import PLAIN


def _shipped() -> dict[str, Kind]:
    return {kind.slug: kind for kind in shipped_kinds()}


def kind_of(word: str) -> Kind:
    """A kind that ships, by its slug, or one from a file."""
    return _shipped().get(word) or parse_kind(bytes_of(word, "kind file, or the slug of a kind: see kinds"))


def kinds_call(_: argparse.Namespace) -> Any:
    """Return what ``kinds`` prints."""
    return list(_shipped())


def kind_call(options: argparse.Namespace) -> Any:
    """Return what ``kind`` prints."""
    kind = _shipped().get(options.slug)
    return kind.to_json() if kind else Node(options.slug, "SLUG").refuse("one of those that kinds prints")


def sheet_call(options: argparse.Namespace) -> Any:
    """Return what ``sheet`` prints."""
    plan, kind = load_plan(options.plan), kind_of(options.kind)
    was = None if options.before is None else load_plan(options.before)
    for each in (plan, was):
        if each is not None and each.trade is not kind.trade:
            raise PlanError(each.trade.key, f"this unit {each.trade.does}", f"a plan for a kind that {kind.trade.does}")
    instant = instant_of(plan, options)

    def occasion(of: Plan) -> tuple[Any, ...]:
        year = day_of(instant // DAY_S).year
        run = replay(of, date(year, 1, 1), date(year, 12, 31))
        return of, run, handover(of, instant), instant, PLAIN, kind

    if was is None:
        return sheet_json(steps(*occasion(plan)))
    return sheet_json(steps_of_changes(was, steps(*occasion(was)), *occasion(plan)))


def play_call(options: argparse.Namespace) -> Any:
    """Return what ``play`` prints."""
    kind = kind_of(options.kind)
    sheet = Node(parse_json(bytes_of(options.sheet, "file that sheet printed")))
    before = None if options.before is None else Node(parse_json(bytes_of(options.before, "file that play printed")))
    return played_json(kind, sheet, before)
