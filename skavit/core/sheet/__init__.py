"""The entry sheet: the steps of keying a plan into a unit, each with what the display must then read.

From the plan, the kind of unit and the moment, in the kind's own order. Without a kind the steps say what to do and
no keys. What does not apply is left out.
"""

from collections.abc import Callable

from skavit.core.kinds.kind import SECTIONS, Kind
from skavit.core.plan.document import Plan
from skavit.core.sheet import handing_over, setting_up
from skavit.core.sheet import slots as memory
from skavit.core.sheet.occasion import Occasion, digits_to_set
from skavit.core.sheet.rekeying import rekeying, stretch_at
from skavit.core.sheet.setting_up import date_words
from skavit.core.sheet.step import Display, DisplayRow, Step, press_rows
from skavit.core.simulation.handover import ChannelHandover
from skavit.core.simulation.replay import Replay
from skavit.core.text.wording import Words

__all__ = ["Display", "DisplayRow", "Step", "date_words", "digits_to_set", "press_rows", "steps"]

_BUILDERS: dict[str, Callable[[Occasion], list[Step]]] = {
    "before": setting_up.before,
    "found": setting_up.found,
    "power": setting_up.power,
    "reset": setting_up.reset,
    "clock": setting_up.clock,
    "date": setting_up.date_,
    "rule": setting_up.rule,
    "place": setting_up.place,
    "suncheck": setting_up.suncheck,
    "correction": setting_up.correction,
    "operating": setting_up.operating,
    "slots": memory.slots,
    "readback": memory.readback,
    "mode": handing_over.mode,
    "lock": handing_over.lock,
    "cover": handing_over.cover,
}


def steps(
    plan: Plan,
    year: Replay,
    leaving: tuple[ChannelHandover, ...],
    instant: int,
    words: Words,
    kind: Kind | None = None,
) -> tuple[Step, ...]:
    """The sheet for keying ``plan`` into a unit of ``kind`` at ``instant``; ``year`` is the plan's replay.

    Raises :class:`SkavitError` where a unit of this kind cannot hold the plan: which entry, and why.
    """
    coming = stretch_at(plan, year, instant) if plan.unit.keyings else ()
    year = year.of_set(coming[0].keying) if coming else year
    occasion = Occasion.at(year.plan if coming else plan, kind, year, leaving, instant, words)
    order = kind.order if kind else SECTIONS
    found = [step for section in order for step in _BUILDERS[section](occasion)]
    return (*found, *rekeying(plan, coming, words))
