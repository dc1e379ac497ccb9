"""What a unit would do were its clock, its sun or its operating mode right and nobody had touched it.

Entries are judged in that world: what a foreign clock or sun does is never told as the fault of a slot.
"""

from dataclasses import replace

from skavit.core.plan.clock_settings import ClockSettings
from skavit.core.plan.document import Plan
from skavit.core.plan.overrides import FirstIn
from skavit.core.plan.sun_settings import SunSettings
from skavit.core.simulation.replay import Replay

# What is left by a wrong clock of that of a right one, where its entries were keyed to make up for it.
MADE_UP = 0.1


def untouched(run: Replay) -> Replay:
    """The same run if nobody had done anything by hand; who came in first did so all the same."""
    came = tuple(override for override in run.plan.overrides if isinstance(override.setting, FirstIn))
    return run if came == run.plan.overrides else run.under(replace(run.plan, overrides=came))


def by_right_clock(run: Replay) -> Replay:
    """The run by a right clock; by its own where its entries make up for what that is out."""
    if clock_is_right(run):
        return run
    right = run.under(with_right_clock(run.plan))
    return run if run.wrong_s < MADE_UP * right.wrong_s else right


def by_right_sun(run: Replay) -> Replay:
    """The run by the site's own sun."""
    plan = with_right_sun(run.plan)
    return run if plan == run.plan else run.under(plan)


def with_right_clock(plan: Plan) -> Plan:
    """The plan with a clock that shows the site's time all year."""
    return replace(plan, unit=replace(plan.unit, clock=ClockSettings()))


def with_right_sun(plan: Plan) -> Plan:
    """The plan with the site's own sun, uncorrected; corrections in which a unit keys its offsets stay."""
    if plan.unit.limits.offset_by == "correction":
        return replace(plan, unit=replace(plan.unit, sun=SunSettings(adjust=plan.unit.sun.adjust)))
    channels = tuple(replace(channel, adjust=None) for channel in plan.channels)
    return replace(plan, unit=replace(plan.unit, sun=SunSettings()), channels=channels)


def clock_is_right(run: Replay) -> bool:
    """Whether a run's unit shows the site's time all through it."""
    clock = run.unit_clock
    return run.plan.unit.clock.is_right and clock.right is clock.sun is run.site_clock
