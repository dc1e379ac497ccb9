"""A crew of twelve units of all trades through a year: what their sheets name with a date is due on it, and nothing else is."""

import re
import unittest
from datetime import date, datetime

from skavit.core.due import Known, Sort, due_of
from skavit.core.ground.arrays import DAY_S
from skavit.core.ground.strict_json import Node
from skavit.core.kinds import shipped_kinds
from skavit.core.kinds.place import plan_for_kind
from skavit.core.plan.document import read_plan
from skavit.core.plan.times import day_number, day_of
from skavit.core.sheet import steps
from skavit.core.simulation.handover import handover
from skavit.core.simulation.replay import replay
from skavit.core.tests.builders import document, entry, local_instant, window
from skavit.core.text.wording import PLAIN

YEAR = 2027
FIRST, LAST = day_number(date(YEAR, 1, 1)), day_number(date(YEAR, 12, 31))
# What a sheet has a step for, by what is due.
STEPS = {
    Sort.CLOCK_CHANGE: ("rule", "summer"),
    Sort.SEASON: ("rekey", "season"),
    Sort.LAY_UP: ("layup",),
    Sort.START_UP: ("layup",),
}
WINTER = {"from": "05-15", "days": 119}  # to 10 September
DATED = re.compile(r"\b(\d{1,2}) (Jan|Feb|Mar|Apr|May|Jun|Jul|Aug|Sep|Oct|Nov|Dec) (20\d\d)\b")


def kinds(trade):
    return [kind for kind in shipped_kinds() if kind.trade.key == trade]


def switching(kind, **unit):
    rows = [entry("on", "18:00"), entry("off", "22:00")]
    return plan_for_kind(read_plan(Node(document([window("18:00", "22:00")], rows, **unit))), kind)


def watering(kind, *, seasonal=False):
    program = {"name": "A", "days": "daily", "starts": ["05:00"], "runs": [{"station": 1, "run_min": 10}]}
    programs = [program]
    if seasonal:
        summer = {"days": "daily", "between": ["10-01", "03-31"]}
        programs = [
            program | {"days": summer},
            program | {"name": "B", "days": {"days": "daily", "between": ["04-01", "09-30"]}},
        ]
    water = {"stations": [{"name": "Lawn", "flow_l_min": 10}], "programs": programs, "lay_up": WINTER}
    return plan_for_kind(read_plan(Node(document(channels=[]) | {"water": water})), kind)


def heating(kind):
    points = [{"at": "06:00", "c": 20, "days": "daily"}, {"at": "22:00", "c": 15, "days": "daily"}]
    zone = {"name": "Hall", "wanted": points, "keyed": points}
    return plan_for_kind(read_plan(Node(document(channels=[]) | {"heat": {"zones": [zone]}})), kind)


def crew():
    """Twelve units: six that switch, four that water, two that heat."""
    switches = [*kinds("channels")[:4], *[kind for kind in kinds("channels") if kind.moved_by_hand][:2]]
    waters, heats = kinds("water")[:4], kinds("heat")[:2]
    evening = [entry("on", "17:00"), entry("off", "22:00")]
    keyings = [{"from": "04-10", "name": "Winter", "entries": evening}, {"from": "10-02", "entries": []}]
    found = [(kind, switching(kind, **({} if n else {"keyings": keyings}))) for n, kind in enumerate(switches)]
    found += [(kind, watering(kind, seasonal=n == 1)) for n, kind in enumerate(waters)]
    return [*found, *((kind, heating(kind)) for kind in heats)]


def sheet(kind, plan, day):
    """The steps of a whole sheet at noon of a day."""
    instant = local_instant(plan, day * DAY_S + DAY_S // 2)
    run = replay(plan, date(YEAR, 1, 1), date(YEAR, 12, 31))
    return steps(plan, run, handover(plan, instant), instant, PLAIN, kind)


def named(step):
    """The dates that a step names with their year, this year's."""
    text = " ".join([step.title, step.say, *step.watch])
    found = {datetime.strptime(" ".join(parts), "%d %b %Y").date() for parts in DATED.findall(text)}
    return {day_number(each) for each in found if each.year == YEAR}


def year_of(kind, plan):
    """(what, its day) of all that becomes due through the year, for somebody who goes on the day itself."""
    visited, found = FIRST - 1, []
    for today in range(FIRST, LAST + 1):
        now = [
            d for d in due_of(plan, kind, (), Known(today=today, visited=visited)) if d.day is None or d.day <= today
        ]
        if now:
            found += [(each.sort, each.day) for each in now]
            visited = today
    return found


class YearTest(unittest.TestCase):
    def test_twelve_units_of_all_trades(self):
        units = crew()
        self.assertEqual((len(units), len({plan.trade.key for _, plan in units})), (12, 3))
        for number, (kind, plan) in enumerate(units):
            with self.subTest(number=number, kind=kind.slug):
                happened = year_of(kind, plan)
                self.assertEqual(len(happened), len(set(happened)))
                self.assertLessEqual({sort for sort, _ in happened}, set(STEPS))
                # Each is named by the sheet some days before, in the step for it.
                for sort, day in happened:
                    told = [step for step in sheet(kind, plan, day - 10) if step.kind in STEPS[sort]]
                    self.assertTrue(told, (sort, day_of(day)))
                    if sort in (Sort.CLOCK_CHANGE, Sort.SEASON):
                        self.assertIn(day, set().union(*map(named, told)), (sort, day_of(day), told))
                # And each date of this year on which the sheet says that somebody must come is due.
                asked = set()
                for month in range(1, 13):
                    day = day_number(date(YEAR, month, 1))
                    asked |= {
                        on for step in sheet(kind, plan, day) if step.kind in ("rekey", "summer") or "by hand" in step.say
                        for on in named(step) if on > day
                    }  # fmt: skip
                self.assertLessEqual(asked, {day for _, day in happened})

    def test_what_it_is_by_the_law(self):
        # New Zealand: 4 April and 26 September 2027 (Time (Daylight) Order 2007).
        by_hand = next(kind for kind in kinds("channels") if kind.moved_by_hand)
        days = [day_number(date(YEAR, 4, 4)), day_number(date(YEAR, 9, 26))]
        self.assertEqual(year_of(by_hand, switching(by_hand)), [(Sort.CLOCK_CHANGE, day) for day in days])
