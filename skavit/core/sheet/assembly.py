"""The steps of a sheet put together: each section by its builder, in the kind's own order."""

from collections.abc import Callable
from dataclasses import replace

from skavit.core.kinds.kind import SECTIONS, Kind
from skavit.core.plan.document import Plan
from skavit.core.sheet import handing_over, holidays, loads, setting_up, sun_steps
from skavit.core.sheet import slots as memory
from skavit.core.sheet.carried import by_clock_change, by_date, by_switching
from skavit.core.sheet.checking import checked, follow
from skavit.core.sheet.keypad import Keypad
from skavit.core.sheet.occasion import Occasion
from skavit.core.sheet.rekeying import rekeying, stretch_at
from skavit.core.sheet.step import Step, unknown
from skavit.core.sheet.ways import with_ways
from skavit.core.simulation.handover import ChannelHandover
from skavit.core.simulation.replay import Replay
from skavit.core.text.wording import Words

# Steps that are done at every visit, whatever was changed.
ALWAYS = ("before", "escape", "mode", "lock", "output")

_BUILDERS: dict[str, Callable[[Occasion], list[Step]]] = {
    "before": lambda occasion: [*loads.escape_doors(occasion), *setting_up.before(occasion)],
    "found": setting_up.found,
    "power": setting_up.power,
    "reset": setting_up.reset,
    "channels": lambda occasion: [*setting_up.channels(occasion), *loads.wiring(occasion)],
    "clock": by_date(setting_up.clock),
    "date": by_date(setting_up.date_),
    "rule": by_clock_change(setting_up.rule),
    "summer": by_clock_change(setting_up.summer),
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

    What a unit of this kind cannot hold is refused at its step, in plain words: the others keep their keys. Each key was
    pressed on the kind's keypad before: a step whose keys do not set what it says has none.
    """
    return _tried(*_built(plan, year, leaving, instant, words, kind, ahead, None), None)


def untried(
    plan: Plan, year: Replay, leaving: tuple[ChannelHandover, ...], instant: int, words: Words, kind: Kind
) -> tuple[Step, ...]:
    """The same with all keys that the kind names, before any was pressed: for whoever looks for what is wrong in it."""
    return with_ways(_built(plan, year, leaving, instant, words, kind, None, None)[1], kind)


def steps_of_changes(
    was: Plan,
    standing: tuple[Step, ...],
    plan: Plan,
    year: Replay,
    leaving: tuple[ChannelHandover, ...],
    instant: int,
    words: Words,
    kind: Kind | None = None,
    ahead: Replay | None = None,
) -> tuple[Step, ...]:
    """The steps that bring a unit in which the plan ``was`` is keyed, by the sheet ``standing``, to ``plan``.

    Those that say what is in it already are left out, but for what is done at every visit; what ``plan`` has no more is
    emptied. Each begins and ends at the normal display, or goes on in the memory where the one before has left it.
    """
    occasion, built = _built(plan, year, leaving, instant, words, kind, ahead, was)
    keys = {step.key for step in standing}
    chosen = [step for step in built if step.kind in ALWAYS or step.key not in keys]
    keypad = None
    if kind is not None and kind.keys:
        keypad = Keypad(kind)
        follow(keypad, standing)
    return _tried(occasion, chosen, keypad)


def _built(
    plan: Plan,
    year: Replay,
    leaving: tuple[ChannelHandover, ...],
    instant: int,
    words: Words,
    kind: Kind | None,
    ahead: Replay | None,
    was: Plan | None,
) -> tuple[Occasion, list[Step]]:
    """The occasion and its steps in the kind's own order, before they are tried."""
    coming = stretch_at(plan, year, instant) if plan.unit.keyings else ()
    year = year.of_set(coming[0].keying) if coming else year
    occasion = Occasion.at(year.plan if coming else plan, kind, year, leaving, instant, words, ahead, was)
    order = kind.order if kind else SECTIONS
    builders = {**_BUILDERS, **plan.trade.sections(plan)}
    built = [step for section in order for step in builders[section](occasion)]
    return occasion, [*holidays.unheld(occasion), *built, *rekeying(plan, coming, words, kind)]


def _tried(occasion: Occasion, built: list[Step], keypad: Keypad | None) -> tuple[Step, ...]:
    kind = occasion.kind
    found = with_ways(built, kind)
    return checked(found, kind, memory.slots_of(occasion), keypad) if kind and kind.keys else found


def told_anew(
    sheet: tuple[Step, ...], plan: Plan, year: Replay, instant: int, words: Words, kind: Kind | None, ahead: Replay
) -> tuple[Step, ...]:
    """A sheet that still holds at a later instant, told from then on, with the minute that the clock must show."""
    occasion = Occasion.at(plan, kind, year, (), instant, words, ahead)
    clock = iter(_BUILDERS["clock"](occasion))
    return tuple(_like(step, next(clock)) if step.kind == "clock" else _from(step, instant) for step in sheet)


def _like(step: Step, anew: Step) -> Step:
    """A step made anew, without its keys where they were not known before."""
    return unknown(anew, step.unknown) if step.unknown else anew


def _from(step: Step, instant: int) -> Step:
    """A step whose first spell begins at an instant within it."""
    if not step.spells:
        return step
    first, *later = step.spells
    return replace(step, spells=(replace(first, first=instant), *later))
