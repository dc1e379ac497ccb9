"""What the pages of units show, read from models and computed by the core; nothing here changes anything."""

from dataclasses import dataclass
from typing import Any

from django.db.models import QuerySet
from django.shortcuts import get_object_or_404

from skavit.bounds import check_plan
from skavit.charts.year_sheet import OFF_THE_SHEET, Mark, year_sheet
from skavit.core.ground.arrays import DAY_S
from skavit.core.ground.errors import SkavitError
from skavit.core.memory.banks import place
from skavit.core.plan.document import Plan
from skavit.core.plan.edits import Edit
from skavit.core.plan.usual_programs import PROGRAMS
from skavit.core.sheet import Step, digits_to_set, steps
from skavit.core.simulation.alteration import alterations
from skavit.core.simulation.handover import ChannelHandover, handover
from skavit.core.text.wording import Words, capital, count
from skavit.crews.models import Crew
from skavit.now import local_digits, now_instant, this_year
from skavit.units.forms import ChannelForm, ImportForm
from skavit.units.models import Unit
from skavit.units.nights import night, strip, weekday_date
from skavit.units.results import UnitYear, unit_year
from skavit.units.rows import Forms, channel_rows, entry_rows, keying_label, numbered, slots_used
from skavit.units.view import View


def units_of(crew: Crew) -> QuerySet[Unit]:
    """The crew's units with what their pages need."""
    return Unit.objects.filter(site__crew=crew).select_related(
        "site", "kind", "head", "head__author", "head__parent", "result"
    )


def unit_of(crew: Crew, pk: int) -> Unit:
    """One of the crew's units; 404 for any other."""
    return get_object_or_404(units_of(crew), pk=pk)


@dataclass(frozen=True, slots=True, kw_only=True)
class PageStep:
    """One of the steps that show how far a unit is."""

    name: str
    done: bool
    here: bool


def unit_page(unit: Unit, view: View, words: Words, forms: Forms | None = None) -> dict[str, Any]:
    """All that the unit's page shows; ``forms`` are those open by their place, refused ones with what was typed."""
    forms = forms or {}
    plan, revision = unit.plan, unit.head.number
    found = unit_year(plan, view.year, words)
    listed = numbered(found)
    leaving = handover(plan, now_instant())
    sheet_marks = [
        Mark(number=n.number, severity=n.finding.severity.value, dates=n.finding.dates)
        for n in listed
        if n.finding.channel in (None, view.channel)
    ]
    today = local_digits(plan, now_instant()) // DAY_S
    year = found.year_of(view.channel - 1, believed=view.believed)
    cursor = {"cursor": view.day - year.first, "marks": sheet_marks, "words": words}
    in_year = today - year.first if year.first <= today < year.first + year.count else None
    channel = found.replay.channels[view.channel - 1]
    return {
        "unit": unit,
        "plan": plan,
        "revision": revision,
        "view": view,
        "findings": listed,
        "untold": len(found.findings) - len(listed),
        "worst": listed[0] if listed and listed[0].finding.severity != "note" else None,
        "serious": [n for n in listed if n.finding.severity != "note"],
        "notes": [n for n in listed if n.finding.severity == "note"],
        "sheet": year_sheet(year, today=in_year, **cursor),
        "sheet_turned": year_sheet(year, today=in_year, turned=True, **cursor),
        "differs": not (
            plan.unit.clock.is_right
            and plan.unit.sun.is_true
            and found.replay.unit_clock.right is found.replay.site_clock
        ),
        "legend": {
            "lamp": f"{(channel.actual.total_s / 3600 - channel.extra_h):.0f} h",
            "alarm": f"{channel.extra_h:.0f} h",
            "gap": f"{channel.missing_h:.0f} h",
        },
        "strip": strip(plan, leaving, view.channel, words),
        "channels": channel_rows(plan, found, revision, words, forms),
        "entries": entry_rows(plan, found, listed, words, forms, view.keying),
        "entry_new": forms.get("entry-new"),
        "slots_used": slots_used(plan, view.keying),
        "keyings": keying_tabs(plan, view.keying) if plan.unit.keyings else [],
        "empty_slot": _empty_slot(unit, plan, view.keying),
        "programs": PROGRAMS,
        "kind_name": unit.kind_name,
        "wanted": any(channel.windows for channel in plan.channels),
        "steps": _page_steps(unit, plan, leaving, words, found),
        "undo": unit.head.parent is not None,
        "redo": unit.head.children.exists(),
        "import_form": forms.get("import") or ImportForm(initial={"revision": revision}),
        "channel_new": forms.get("channel-new") or ChannelForm(initial={"revision": revision}),
        **night(found, view, words),
    }


def alteration_lines(plan: Plan, change: Edit, year: int) -> list[str]:
    """What an edit alters in a year, a line for each channel that it touches. Raises PlanError for too large a plan."""
    changed = change(plan)
    check_plan(changed)
    found = [altered for altered in alterations(plan, changed, year) if altered.alters]
    named = len(plan.channels) > 1
    return [f"{a.name}: {a.text}" if named else a.text for a in found] or ["Alters nothing this year."]


def _empty_slot(unit: Unit, plan: Plan, keying: int) -> dict[str, Any] | None:
    """The first slot that holds nothing, as the unit shows it; None where the memory has no end or is full."""
    kind = unit.core_kind
    used = len(place(plan.unit.sets[keying], plan.unit.limits).slots)
    if kind is None or kind.slots is None or used >= kind.slots:
        return None
    return {"number": used + 1, "shows": kind.slot.empty, "more": kind.slots - used - 1}


@dataclass(frozen=True, slots=True, kw_only=True)
class KeyingTab:
    """One of the sets of entries that stand in a unit in turn."""

    number: int
    label: str
    here: bool


def keying_tabs(plan: Plan, here: int) -> list[KeyingTab]:
    """The sets of entries by the dates from which they are keyed."""
    labels = ["before any date", *(keying_label(keying) for keying in plan.unit.keyings)]
    return [KeyingTab(number=n, label=label, here=n == here) for n, label in enumerate(labels)]


def _page_steps(unit: Unit, plan: Plan, leaving: Any, words: Words, found: UnitYear) -> list[PageStep]:
    ticked = set(unit.ticks.filter(done=True).values_list("key", flat=True))
    sheet, _ = _sheet(unit, plan, found, leaving, words)
    keyed = [step for step in sheet if step.kind in KEYED]
    serious = sum(finding.severity != "note" for finding in found.findings)
    wanted = any(channel.windows for channel in plan.channels)
    states = [
        ("wanted", wanted),
        ("fitted", bool(plan.unit.all_entries)),
        (
            f"checked: {count(serious, 'finding')}" if serious else "checked",
            bool(plan.unit.all_entries) and not serious,
        ),
        ("keyed", bool(plan.unit.all_entries) and all(step.key in ticked for step in keyed)),
        ("left in automatic", any(step.kind == "mode" and step.key in ticked for step in sheet)),
    ]
    here = next((index for index, (_, done) in enumerate(states) if not done), len(states))
    return [PageStep(name=name, done=done, here=index == here) for index, (name, done) in enumerate(states)]


# The sections of the sheet by which a unit counts as keyed.
KEYED = ("clock", "date", "rule", "place", "correction", "operating", "slot", "empty")


def _sheet(
    unit: Unit, plan: Plan, found: UnitYear, leaving: tuple[ChannelHandover, ...], words: Words
) -> tuple[tuple[Step, ...], str]:
    """The steps for keying the unit now; without its kind's keys, and why, where that kind cannot hold the plan."""
    instant = now_instant()
    try:
        return steps(plan, found.replay, leaving, instant, words, unit.core_kind), ""
    except SkavitError as error:
        return steps(plan, found.replay, leaving, instant, words), capital(str(error))


def sheet_keys(unit: Unit, words: Words) -> frozenset[str]:
    """The keys of the steps of a unit's entry sheet as it stands."""
    plan = unit.plan
    found = unit_year(plan, this_year(plan.site), words)
    sheet, _ = _sheet(unit, plan, found, handover(plan, now_instant()), words)
    return frozenset(step.key for step in sheet)


def sheet_page(unit: Unit, words: Words) -> dict[str, Any]:
    """The entry sheet of a unit, now."""
    plan = unit.plan
    instant = now_instant()
    leaving = handover(plan, instant)
    year = this_year(plan.site)
    found = unit_year(plan, year, words)
    ticked = set(unit.ticks.filter(done=True).values_list("key", flat=True))
    sheet, kind_error = _sheet(unit, plan, found, leaving, words)
    rows = [{"number": number, "step": step, "done": step.key in ticked} for number, step in enumerate(sheet, start=1)]
    first_open = next((row["number"] for row in rows if not row["done"]), len(rows))
    return {
        "unit": unit,
        "plan": plan,
        "rows": rows,
        "kind": unit.core_kind,
        "kind_error": kind_error,
        "digits": digits_to_set(plan, instant),
        "twelve": unit.core_kind.clock.hours == 12 if unit.core_kind else words.twelve_hour,
        "total": len(rows),
        "first_open": first_open,
        "serious": [f for f in found.findings if f.severity != "note"],
        "leaving": [
            {
                "name": channel.name,
                "state": "ON" if channel.program else "OFF",
                "next": [
                    f"{words.minute(local_digits(plan, s.instant) % DAY_S)} {'ON' if s.on else 'OFF'}, "
                    f"{weekday_date(local_digits(plan, s.instant) // DAY_S)}"
                    for s in channel.next
                ],
            }
            for channel in leaving
        ],
        "printed": weekday_date(local_digits(plan, instant) // DAY_S),
        "sheet": year_sheet(found.year_of(0), marks=[], cursor=OFF_THE_SHEET, today=None, words=words),
    }
