"""What the unit's page shows."""

from dataclasses import dataclass
from typing import Any

from skavit.bounds import check_plan
from skavit.charts.year_sheet import year_sheet
from skavit.core.ground.arrays import DAY_S
from skavit.core.memory.banks import place
from skavit.core.plan.document import Plan
from skavit.core.plan.edits import Edit
from skavit.core.plan.usual_programs import USUAL_PROGRAMS, UsualProgram
from skavit.core.simulation.alteration import alterations
from skavit.core.simulation.replay import ChannelReplay
from skavit.core.text.wording import Words, dated_text
from skavit.now import local_digits
from skavit.units.models import PlanRevision, Unit
from skavit.units.pages.keying_tabs import KeyingTab, keying_tabs
from skavit.units.pages.numbered import Numbered, marks_of, numbered
from skavit.units.pages.plan.by_hand_form import ByHandForm
from skavit.units.pages.plan.by_hand_rows import ByHandRow, by_hand_rows
from skavit.units.pages.plan.forms import ChannelForm, ImportForm
from skavit.units.pages.plan.night import CursorNight, Strip, cursor_night, strip
from skavit.units.pages.plan.rows import ChannelRow, EntryRow, Forms, channel_rows, entry_rows, form_at, slots_used
from skavit.units.pages.view import View
from skavit.units.pages.way import Way, way_of
from skavit.units.results import UnitYear, unit_year, unit_year_within


@dataclass(frozen=True, slots=True, kw_only=True)
class Legend:
    """Hours a year of a channel by the three ways in which they are drawn."""

    lamp: str
    alarm: str
    gap: str

    @classmethod
    def of(cls, channel: ChannelReplay) -> "Legend":
        """Those of a channel."""
        as_wanted = channel.actual.total_s / 3600 - channel.extra_h
        return cls(lamp=f"{as_wanted:.0f} h", alarm=f"{channel.extra_h:.0f} h", gap=f"{channel.missing_h:.0f} h")


@dataclass(frozen=True, slots=True, kw_only=True)
class EmptySlot:
    """The first slot that holds nothing, as the unit shows it, and how many follow."""

    number: int
    shows: str
    more: int


@dataclass(frozen=True, slots=True, kw_only=True)
class UnitPage:
    """The unit's page: what is looked at, what it does, what is wrong, what is wanted and what is keyed in."""

    unit: Unit
    plan: Plan
    revision: int
    changed: str  # when it was changed last, by the site's clock
    view: View
    findings: list[Numbered]
    untold: int  # findings that are not listed
    worst: Numbered | None
    serious: list[Numbered]
    notes: list[Numbered]
    sheet: str
    sheet_turned: str
    differs: bool  # the unit's clock or sun is not the site's
    legend: Legend
    strip: Strip
    night: CursorNight
    wanted: bool
    channels: list[ChannelRow]
    usual_programs: tuple[UsualProgram, ...]
    entries: list[EntryRow]
    entry_new: Any  # the open form of a new entry
    slots_used: str
    empty_slot: EmptySlot | None
    keyings: list[KeyingTab]
    way: Way
    by_hand: list[ByHandRow]
    by_hand_new: Any  # the form of another line
    undo: bool
    redo: bool
    import_form: ImportForm
    channel_new: ChannelForm


def unit_page(
    unit: Unit, view: View, words: Words, now: int, forms: Forms | None = None, *, may_edit: bool = True
) -> UnitPage:
    """All that the unit's page shows; ``forms`` are those open by their place, refused ones with what was typed."""
    plan, revision = unit.plan, unit.head_revision
    forms = forms or {}
    if may_edit and not any(channel.windows for channel in plan.channels):
        place = f"window-{view.channel}-new"  # the first question of an empty unit stands open
        forms = {place: form_at(place, plan, revision.number, words), **forms}
    found = unit_year(plan, view.year)
    judged = unit_year_within(plan, view.year, *view.within) if view.within else found
    listed = numbered(judged, words)
    serious = [n for n in listed if n.finding.severity != "note"]
    leaving = found.leaving(now)
    fresh = {"revision": revision.number}
    return UnitPage(
        unit=unit,
        plan=plan,
        revision=revision.number,
        changed=changed_text(plan, revision, words),
        view=view,
        findings=listed,
        untold=len(judged.findings) - len(listed),
        worst=serious[0] if serious else None,
        serious=serious,
        notes=[n for n in listed if n.finding.severity == "note"],
        sheet=_year_sheet(found, view, listed, words, now, turned=False),
        sheet_turned=_year_sheet(found, view, listed, words, now, turned=True),
        differs=_differs(plan, found),
        legend=Legend.of(found.replay.channels[view.channel - 1]),
        strip=strip(plan, leaving, view.channel, words, now),
        night=cursor_night(found, view, words, now),
        wanted=any(channel.windows for channel in plan.channels),
        channels=channel_rows(plan, found, revision.number, words, forms),
        usual_programs=USUAL_PROGRAMS,
        entries=entry_rows(plan, found, listed, words, forms, view.keying),
        entry_new=forms.get("entry-new"),
        slots_used=slots_used(plan, view.keying),
        empty_slot=_empty_slot(unit, plan, view.keying),
        keyings=keying_tabs(plan, view.keying) if plan.unit.keyings else [],
        way=way_of(unit, found, words, now, may_edit=may_edit),
        by_hand=by_hand_rows(plan, unit.core_kind, words),
        by_hand_new=forms.get("by-hand") or ByHandForm(plan=plan, initial=fresh | {"date": today_text(plan, now)}),
        undo=revision.parent_id is not None,
        redo=revision.children.exists(),
        import_form=forms.get("import") or ImportForm(initial=fresh),
        channel_new=forms.get("channel-new") or ChannelForm(initial=fresh),
    )


def today_text(plan: Plan, now: int) -> str:
    """The site's date, as a field shows it."""
    return dated_text(local_digits(plan, now) // DAY_S)


def changed_text(plan: Plan, revision: PlanRevision, words: Words) -> str:
    """When a plan was changed last, by the site's clock."""
    day, seconds = divmod(local_digits(plan, int(revision.at.timestamp())), DAY_S)
    return f"{dated_text(day)}, {words.minute(seconds)}"


def _year_sheet(found: UnitYear, view: View, listed: list[Numbered], words: Words, now: int, *, turned: bool) -> str:
    year = found.year_of(view.channel - 1, believed=view.believed)
    today = local_digits(found.replay.plan, now) // DAY_S - year.first
    return year_sheet(
        year,
        cursor=view.day - year.first,
        marks=marks_of(listed, view.channel),
        words=words,
        today=today if 0 <= today < year.count else None,
        turned=turned,
    )


def _differs(plan: Plan, found: UnitYear) -> bool:
    """Whether the unit's clock or sun is another than the site's."""
    own_rule = found.replay.unit_clock.right is not found.replay.site_clock
    return own_rule or not (plan.unit.clock.is_right and plan.unit.sun.is_true)


def alteration_lines(plan: Plan, change: Edit, year: int) -> list[str]:
    """What an edit alters in a year, a line for each channel that it touches. Raises PlanError for too large a plan."""
    changed = change(plan)
    check_plan(changed)
    found = [altered for altered in alterations(plan, changed, year) if altered.alters]
    named = len(plan.channels) > 1
    return [f"{a.name}: {a.text}" if named else a.text for a in found] or ["Alters nothing this year."]


def _empty_slot(unit: Unit, plan: Plan, keying: int) -> EmptySlot | None:
    """The first slot that holds nothing; None where the memory has no end or is full."""
    kind = unit.core_kind
    used = len(place(plan.unit.sets[keying], plan.unit.limits).slots)
    if kind is None or kind.slots is None or used >= kind.slots:
        return None
    return EmptySlot(number=used + 1, shows=kind.slot.empty, more=kind.slots - used - 1)
