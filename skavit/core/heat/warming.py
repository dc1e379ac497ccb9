"""When the heat must start so that a room is warm in time, and what a year of set points saves against a constant temperature."""

from dataclasses import dataclass

import numpy as np

from skavit.core.ground.arrays import DAY_S, HOUR_S, MINUTE_S, Floats
from skavit.core.heat.outside import hourly_c, usual_outside
from skavit.core.heat.room import cooled_c, warm_up_min
from skavit.core.heat.targets import Targets, Warmed
from skavit.core.heat.week import WEEK_S, Week
from skavit.core.plan.document import Plan
from skavit.core.plan.heat import Outside, Room

# A stand-in room: some 50 m2 of a house with light walls and some insulation, and a heater that a winter's night does not
# overtax. Common practice, no source.
STAND_IN_M2 = 50
STAND_IN = Room(loss_w_k=90.0, capacity_wh_k=2_000.0, heater_w=4_500.0)
CLOSE_S = 30


def outside_of(plan: Plan) -> Outside:
    """What it is outside: as the plan says, or the stand-in of its latitude."""
    return (plan.heat.outside if plan.heat else None) or usual_outside(plan.site.latitude)


@dataclass(frozen=True, slots=True, kw_only=True)
class Rise:
    """A step up of a week: when, from and to what, and for how long the higher target holds."""

    day: int  # 0 for Monday
    seconds: int  # after its midnight
    from_c: float
    to_c: float
    lower_s: int  # for how long the lower target held before
    higher_s: int


def rises(week: Week) -> tuple[Rise, ...]:
    """Every step up of a week, as it comes round."""
    at, c = week.steps()
    # The piece at Monday's midnight is a step of its own only where something acts there.
    keep = np.concatenate([[c[0] != c[-1]], c[1:] != c[:-1]]) if at.size > 1 else np.zeros(1, dtype=bool)
    at, c = at[keep], c[keep]
    found = []
    for n in range(at.size):
        if c[n] > c[n - 1]:
            lower, higher = (at[n] - at[n - 1]) % WEEK_S, (at[(n + 1) % at.size] - at[n]) % WEEK_S
            day, seconds = divmod(int(at[n]), DAY_S)
            found.append(
                Rise(
                    day=day, seconds=seconds, from_c=float(c[n - 1]), to_c=float(c[n]),
                    lower_s=int(lower) or WEEK_S, higher_s=int(higher) or WEEK_S,
                )
            )  # fmt: skip
    return tuple(found)


def lead_s(room: Room, rise: Rise, outside_c: float) -> int | None:
    """How long before a step up the heat must start so that the room is warm at it; None where it never is.

    The room cools from the higher target until the heat starts, but not below the lower one.
    """
    if warm_up_min(room, outside_c, rise.from_c, rise.to_c) is None:
        return None
    low, high = 0, rise.lower_s
    while high - low > CLOSE_S:
        middle = (low + high) // 2
        low, high = (middle, high) if _lacking(room, rise, outside_c, middle) > 0 else (low, middle)
    return high


def _lacking(room: Room, rise: Rise, outside_c: float, lead: int) -> float:
    """Minutes that a start so many seconds before is too late; infinite where the room never gets there."""
    minutes = warm_up_min(room, outside_c, _cooled(room, rise, outside_c, lead), rise.to_c)
    return float("inf") if minutes is None else minutes - lead / MINUTE_S


def _cooled(room: Room, rise: Rise, outside_c: float, lead: int) -> float:
    """What the room has when the heat starts."""
    cooled = cooled_c(room, outside_c, rise.to_c, (rise.lower_s - lead) / MINUTE_S)
    return max(min(rise.from_c, rise.to_c), cooled)


def late_min(room: Room, rise: Rise, outside_c: float) -> float | None:
    """Minutes after a step up at which the room is warm if the heat starts with it; None where it never is."""
    return warm_up_min(room, outside_c, _cooled(room, rise, outside_c, 0), rise.to_c)


@dataclass(frozen=True, slots=True, kw_only=True)
class YearHeat:
    """What a year of a zone takes, beside a constant temperature."""

    kwh: float
    constant_kwh: float
    constant_c: float
    degree_hours: float  # kelvin hours by which the targets lie under the constant temperature

    @property
    def saved_kwh(self) -> float:
        """What is saved."""
        return self.constant_kwh - self.kwh


def year_heat(warmed: Warmed, zone: int) -> YearHeat:
    """What a zone (from 0) takes in the range of its replay, by the stand-in weather hour by hour; worked out once."""
    run, of = warmed.run, warmed.zones[zone]
    name = f"heat of zone {zone}"
    if name in run.kept:
        kept: YearHeat = run.kept[name]
        return kept
    room = of.zone.room or STAND_IN
    outside = hourly_c(run.plan.site.latitude, run.last - run.first + 1)
    hours = run.start + np.arange(outside.size) * HOUR_S
    held = of.actual.value_at(hours)
    # The warmest that the program holds: what somebody sets by hand for some hours is no temperature for the year.
    constant = float(np.nanmax(of.program.c))
    shortfall = np.nan_to_num(np.maximum(constant - held, 0), nan=0.0)
    run.kept[name] = found = YearHeat(
        kwh=kwh_of(room, outside, np.nan_to_num(held, nan=-273.0)),
        constant_kwh=kwh_of(room, outside, np.full(outside.shape, constant)),
        constant_c=constant,
        degree_hours=float(shortfall.sum()),
    )
    return found


def kwh_of(room: Room, outside: Floats, held: Floats) -> float:
    """The heat that a room takes, an hour at a time: as much as brings it to its target, or all that the heater gives."""
    fall = float(np.exp(-room.loss_w_k / room.capacity_wh_k))
    per_kelvin = room.loss_w_k / (1 - fall)  # watts through an hour for each kelvin at its end
    inside, total = float(held[0]), 0.0
    inside = max(inside, float(outside[0]))
    for out, aim in zip(outside.tolist(), held.tolist(), strict=True):
        left = out + (inside - out) * fall
        watts = min(max((aim - left) * per_kelvin, 0.0), room.heater_w)
        inside = left + watts / per_kelvin
        total += watts
    return total / 1000


def room_path(room: Room, targets: Targets, outside_c: float, step_s: int = 300) -> Floats:
    """The room's temperature through a range, each ``step_s`` seconds, where it is ``outside_c`` outside; shape (steps,)."""
    at = np.arange(targets.at[0], targets.until, step_s)
    held = np.nan_to_num(targets.value_at(at), nan=-273.0)
    fall = float(np.exp(-room.loss_w_k / room.capacity_wh_k * step_s / HOUR_S))
    per_kelvin = room.loss_w_k / (1 - fall)
    inside, found = max(float(held[0]), outside_c), []
    for aim in held.tolist():
        found.append(inside)
        left = outside_c + (inside - outside_c) * fall
        inside = left + min(max((aim - left) * per_kelvin, 0.0), room.heater_w) / per_kelvin
    return np.array(found)
