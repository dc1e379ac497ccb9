"""The two columns of a unit that switches, and what else its page shows."""

from dataclasses import dataclass
from typing import Any

from skavit.charts.year_sheet import year_sheet
from skavit.core.ground.arrays import DAY_S
from skavit.core.ground.spans import difference
from skavit.core.memory import place
from skavit.core.plan.document import Plan
from skavit.core.plan.usual_programs import USUAL_PROGRAMS, UsualProgram
from skavit.core.simulation.replay import ChannelReplay
from skavit.core.text.wording import are_pulses, on_time_text
from skavit.server.now import local_digits
from skavit.switching.pages.unit.forms import ChannelForm
from skavit.switching.pages.unit.rows import ChannelRow, EntryRow, channel_rows, entry_rows, slots_used
from skavit.units.models import Unit
from skavit.units.pages.numbered_findings import marks_of
from skavit.units.pages.seasonal_tabs import SeasonalTab, seasonal_tabs
from skavit.units.trades import Shows
from skavit.units.years import UnitYear


@dataclass(frozen=True, slots=True, kw_only=True)
class Legend:
    """How long a channel is on in a year, by the three ways in which that is drawn."""

    lamp: str
    alarm: str
    gap: str

    @classmethod
    def of(cls, channel: ChannelReplay) -> "Legend":
        """Those of a channel."""
        as_wanted = difference(channel.actual, channel.extra)
        pulses = are_pulses(channel.wanted.lengths)
        lamp, alarm, gap = (
            on_time_text(spans.lengths, pulses=pulses) for spans in (as_wanted, channel.extra, channel.missing)
        )
        return cls(lamp=lamp, alarm=alarm, gap=gap)


@dataclass(frozen=True, slots=True, kw_only=True)
class EmptySlot:
    """The first slot that holds nothing, as the unit shows it, and how many follow."""

    number: int
    shows: str
    more: int


@dataclass(frozen=True, slots=True, kw_only=True)
class SwitchingBody:
    """What is wanted of each channel, and the slots of the memory."""

    differs: bool  # the unit's clock or sun is not the site's
    legend: Legend
    channels: list[ChannelRow]
    usual_programs: tuple[UsualProgram, ...]
    slots: list[EntryRow]
    entry_new: Any  # the open form of a new entry
    slots_used: str
    empty_slot: EmptySlot | None
    keyings: list[SeasonalTab]
    channel_new: ChannelForm


def switching_body(shows: Shows) -> SwitchingBody:
    """Work out the two columns."""
    unit, found, view, words, forms = shows.unit, shows.found, shows.view, shows.words, shows.forms
    plan, revision = unit.plan, unit.head_revision.number
    return SwitchingBody(
        differs=_differs(plan, found),
        legend=Legend.of(found.replay.channels[view.channel - 1]),
        channels=channel_rows(plan, found, revision, words, forms),
        usual_programs=USUAL_PROGRAMS,
        slots=entry_rows(plan, found, shows.listed, words, forms, view.keying),
        entry_new=forms.get("entry-new"),
        slots_used=slots_used(plan, view.keying),
        empty_slot=_empty_slot(unit, plan, view.keying),
        keyings=seasonal_tabs(plan, view.keying) if plan.unit.keyings else [],
        channel_new=forms.get("channel-new") or ChannelForm(initial={"revision": revision}),
    )


def year_picture(shows: Shows, *, turned: bool) -> str:
    """The year sheet of the channel that is shown, as SVG."""
    found, view = shows.found, shows.view
    year = found.year_of(view.channel - 1, believed=view.believed)
    today = local_digits(found.replay.plan, shows.now) // DAY_S - year.first
    return year_sheet(
        year,
        cursor=view.day - year.first,
        marks=marks_of(shows.listed, view.channel),
        words=shows.words,
        today=today if 0 <= today < year.count else None,
        turned=turned,
    )


def _differs(plan: Plan, found: UnitYear) -> bool:
    """Whether the unit's clock or sun is another than the site's."""
    own_rule = found.replay.unit_clock.right is not found.replay.site_clock
    return own_rule or not (plan.unit.clock.is_right and plan.unit.sun.is_true)


def _empty_slot(unit: Unit, plan: Plan, keying: int) -> EmptySlot | None:
    """The first slot that holds nothing; None where the memory has no end or is full."""
    kind = unit.core_kind
    used = len(place(plan.unit.sets[keying], plan.unit.limits).slots)
    if kind is None or kind.slots is None or used >= kind.slots:
        return None
    return EmptySlot(number=used + 1, shows=kind.slot.empty, more=kind.slots - used - 1)
