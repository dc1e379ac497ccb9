"""Plans for tests, with defaults, and hypothesis strategies for their parts. All of it is invented."""

from datetime import date

import numpy as np
from hypothesis import strategies as st

from skavit.core.ground.arrays import DAY_S
from skavit.core.ground.strict_json import Node
from skavit.core.kinds import shipped_kinds
from skavit.core.plan.days import NAMED, Weekdays
from skavit.core.plan.document import Plan, read_plan
from skavit.core.plan.times import day_of
from skavit.core.site.clock import zone_clock

BAY = {"name": "Harbour walk", "latitude": -39.49, "longitude": 176.91, "timezone": "Pacific/Auckland"}
# A place without daylight saving, so that a minute is a minute: Phoenix keeps UTC-7 all year.
DESERT = {"name": "Copper yard", "latitude": 33.45, "longitude": -112.07, "timezone": "America/Phoenix"}
WEEK = ["mon", "tue", "wed", "thu", "fri", "sat", "sun"]


def switching_kinds():
    """The shipped kinds that switch outputs: those that water or hold temperatures have no entries."""
    return [kind for kind in shipped_kinds() if kind.watering is None and kind.heating is None]


def window(start, to, days="daily", **more):
    return {"from": start, "to": to, "days": days, **more}


def entry(action, at, days="daily", channels=(1,)):
    return {"channels": list(channels), "action": action, "at": at, "days": days}


def document(windows=(), entries=(), *, channels=None, site=BAY, **unit):
    rows = channels if channels is not None else [list(windows)]
    return {
        "format": "skavit-plan/1",
        "site": site,
        "unit": {"entries": list(entries), **unit},
        "channels": [{"name": f"Channel {n}", "windows": w} for n, w in enumerate(rows, start=1)],
    }


def make_plan(windows=(), entries=(), **more) -> Plan:
    return read_plan(Node(document(windows, entries, **more)))


def day_groups_of(*names):
    """Day groups by their names in the plan file."""
    return tuple(Weekdays(NAMED[name]) for name in names)


def local_instant(plan, digits):
    """The instant at which the site's clock first shows the digits."""
    year = day_of(digits // DAY_S).year
    return int(zone_clock(plan.site.timezone, year - 1, year + 1).first(np.array([digits]))[0])


def clock_text(minute):
    return f"{minute // 60:02d}:{minute % 60:02d}"


clock_times = st.integers(0, 1439).map(clock_text)
sun_times = st.builds(
    lambda event, offset: event + (f"{offset:+d}" if offset else ""),
    st.sampled_from(["dawn", "sunrise", "sunset", "dusk"]),
    st.integers(-120, 120),
)
weekday_sets = st.lists(st.sampled_from(WEEK), min_size=1, max_size=7, unique=True)
simple_days = st.one_of(st.sampled_from(["daily", "weekdays", "weekends"]), weekday_sets)
month_days = st.tuples(st.integers(1, 12), st.integers(1, 28)).map(lambda md: f"{md[0]:02d}-{md[1]:02d}")
dates = st.dates(min_value=date(2020, 1, 1), max_value=date(2035, 1, 1))
dated = st.one_of(month_days, dates.map(lambda d: d.isoformat()))
spans = st.builds(lambda start, days: {"from": start, "days": days}, dated, st.integers(1, 366))
all_days = st.recursive(
    st.one_of(
        simple_days,
        st.sampled_from([{"parity": "odd"}, {"parity": "even"}]),
        st.builds(lambda n, d: {"every": n, "from": d.isoformat()}, st.integers(1, 30), dates),
        st.lists(st.one_of(dated, spans), min_size=1, max_size=3).map(lambda found: {"dates": found}),
    ),
    lambda inner: st.builds(
        lambda days, ends, out: {"days": days, "between": list(ends), "except": out},
        inner,
        st.tuples(month_days, month_days),
        st.lists(inner, min_size=1, max_size=2),
    ),
    max_leaves=3,
)
limited_times = st.builds(
    lambda at, low, high: {"at": at, "not_before": clock_text(min(low, high)), "not_after": clock_text(max(low, high))},
    sun_times,
    st.integers(0, 1439),
    st.integers(0, 1439),
)
times = st.one_of(clock_times, sun_times, limited_times)
