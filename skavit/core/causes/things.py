"""What can be seen of a unit from outside: each output on or off, water running, a station running, a room warm or cold."""

from dataclasses import dataclass

import numpy as np

from skavit.core.ground.spans import Spans, unite
from skavit.core.heat.targets import Targets, targets
from skavit.core.plan.document import Plan
from skavit.core.simulation.replay import Replay
from skavit.core.water.stack import stack


@dataclass(frozen=True, slots=True, kw_only=True)
class Thing:
    """One thing that is looked at."""

    name: str
    states: tuple[str, str]  # what it is called where it is on, and where it is off
    sort: str  # channel, water, station or room
    number: int  # of its sort, from 1


def things_of(plan: Plan) -> tuple[Thing, ...]:
    """All things of a unit: its channels, its water as a whole, its stations, its rooms."""
    found = [Thing(name=c.name, states=("on", "off"), sort="channel", number=n) for n, c in enumerate(plan.channels, 1)]
    if plan.water is not None:
        runs = ("running", "not running")
        found.append(Thing(name="Water", states=runs, sort="water", number=1))
        found += [
            Thing(name=s.name, states=runs, sort="station", number=n) for n, s in enumerate(plan.water.stations, 1)
        ]
    if plan.heat is not None:
        zones = enumerate(plan.heat.zones, 1)
        found += [Thing(name=z.name, states=("warm", "cold"), sort="room", number=n) for n, z in zones]
    return tuple(found)


def first_of(plan: Plan, sort: str) -> int:
    """The place of the first thing of a sort among all things, from 0."""
    return next((i for i, thing in enumerate(things_of(plan)) if thing.sort == sort), 0)


def spans_of(run: Replay) -> tuple[Spans, ...]:
    """When each thing is on, running or warm, over the range that was run."""
    found = [channel.actual for channel in run.channels]
    watered = stack(run)
    if watered is not None:
        found += [unite(watered.stations), *watered.stations]
    warmed = targets(run)
    if warmed is not None:
        found += [_warm(zone.actual) for zone in warmed.zones]
    return tuple(found)


def _warm(held: Targets) -> Spans:
    """When a room is held at the upper half of what it is held at in the range."""
    degrees = held.c[~np.isnan(held.c)]
    middle = (degrees.min() + degrees.max()) / 2 if degrees.size else 0.0
    return held.where(np.nan_to_num(held.c, nan=-1e9) > middle)
