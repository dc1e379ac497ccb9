"""The steps of a sheet put together: each section by its builder, in the kind's own order."""

from collections.abc import Callable
from dataclasses import replace

from skavit.core.kinds.kind import SECTIONS, Kind
from skavit.core.plan.document import Plan
from skavit.core.sheet import handing_over, holidays, loads, setting_up, sun_steps
from skavit.core.sheet import slots as memory
from skavit.core.sheet.carried import by_date, by_switching
from skavit.core.sheet.occasion import Occasion
from skavit.core.sheet.rekeying import rekeying, stretch_at
from skavit.core.sheet.step import Step
from skavit.core.simulation.handover import ChannelHandover
from skavit.core.simulation.replay import Replay
from skavit.core.text.wording import Words

_BUILDERS: dict[str, Callable[[Occasion], list[Step]]] = {
    "before": lambda occasion: [*loads.escape_doors(occasion), *setting_up.before(occasion)],
    "found": setting_up.found,
    "power": setting_up.power,
    "reset": setting_up.reset,
    "channels": lambda occasion: [*setting_up.channels(occasion), *loads.wiring(occasion)],
    "clock": by_date(setting_up.clock),
    "date": by_date(setting_up.date_),
    "rule": setting_up.rule,
    "summer": setting_up.summer,
    "place": sun_steps.place,
    "suncheck": by_date(sun_steps.suncheck),
    "correction": by_date(sun_steps.correction),
    "operating": setting_up.operating,
    "slots": memory.slots,
    "holidays": holidays.holidays,
    "readback": memory.readback,
    "mode": by_switching(handing_over.mode),
    "lock": handing_over.lock,
    "pin": handing_over.pin,
    "cover": lambda occasion: [*by_switching(handing_over.cover)(occasion), *loads.tests(occasion)],
}


def steps(
    plan: Plan,
    year: Replay,
    leaving: tuple[ChannelHandover, ...],
    instant: int,
    words: Words,
    kind: Kind | None = None,
    ahead: Replay | None = None,
) -> tuple[Step, ...]:
    """The sheet for keying ``plan`` into a unit of ``kind`` at ``instant``; ``year`` is the plan's replay.

    ``ahead`` is a replay in which today and tomorrow stand: given, the steps carry what they say through them.

    What a unit of this kind cannot hold is refused at its step, in plain words: the others keep their keys.
    """
    coming = stretch_at(plan, year, instant) if plan.unit.keyings else ()
    year = year.of_set(coming[0].keying) if coming else year
    occasion = Occasion.at(year.plan if coming else plan, kind, year, leaving, instant, words, ahead)
    order = kind.order if kind else SECTIONS
    builders = {**_BUILDERS, **plan.trade.sections(plan)}
    found = [step for section in order for step in builders[section](occasion)]
    return (*holidays.unheld(occasion), *found, *rekeying(plan, coming, words, kind))


def told_anew(
    sheet: tuple[Step, ...], plan: Plan, year: Replay, instant: int, words: Words, kind: Kind | None, ahead: Replay
) -> tuple[Step, ...]:
    """A sheet that still holds at a later instant, told from then on, with the minute that the clock must show."""
    occasion = Occasion.at(plan, kind, year, (), instant, words, ahead)
    clock = iter(_BUILDERS["clock"](occasion))
    return tuple(next(clock) if step.kind == "clock" else _from(step, instant) for step in sheet)


def _from(step: Step, instant: int) -> Step:
    """A step whose first spell begins at an instant within it."""
    if not step.spells:
        return step
    first, *later = step.spells
    return replace(step, spells=(replace(first, first=instant), *later))
