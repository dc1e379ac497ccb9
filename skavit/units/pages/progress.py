"""The way of a unit: seven steps from its kind to its hand-over, each with its state and where it is done."""

from dataclasses import dataclass

from django.urls import reverse

from skavit.core.findings import Finding
from skavit.core.sheet import Step
from skavit.core.text.wording import Words, count
from skavit.server.now import year_at
from skavit.units.computing import unit_year
from skavit.units.models import Unit
from skavit.units.pages.sheet.page import ticked_keys
from skavit.units.results import accepted_of
from skavit.units.sheets import sheet_of
from skavit.units.trades import pages_of
from skavit.units.years import UnitYear

# The sections of the sheet by which a unit counts as keyed.
KEYED = (
    *("channels", "clock", "date", "rule", "place", "correction", "operating", "slot", "empty", "holidays"),
    "unheld",
)
# Findings that are mended on the page of clock and sun.
BY_CLOCK = ("dst-differs", "clock-out", "sun-differs", "sun-swapped")


@dataclass(frozen=True, slots=True, kw_only=True)
class ProgressStep:
    """One step of the way."""

    slug: str
    name: str
    state: str  # at a glance, in two or three words
    done: bool
    here: bool  # the first that is not done
    at: str  # its address; empty where this person has nothing to do there


@dataclass(frozen=True, slots=True, kw_only=True)
class Progress:
    """The steps, and the one whose page is shown."""

    steps: list[ProgressStep]
    shown: str = ""

    @property
    def following(self) -> ProgressStep | None:
        """The step after the one whose page is shown."""
        slugs = [step.slug for step in self.steps]
        place = slugs.index(self.shown) + 1 if self.shown in slugs else len(slugs)
        return self.steps[place] if place < len(slugs) else None


def progress(unit: Unit, words: Words, now: int, *, shown: str = "", may_edit: bool = True) -> Progress:
    """How far a unit is."""
    return progress_of(
        unit, unit_year(unit.plan, year_at(unit.plan.site, now)), words, now, shown=shown, may_edit=may_edit
    )


def progress_of(
    unit: Unit, year: UnitYear, words: Words, now: int, *, shown: str = "", may_edit: bool = True
) -> Progress:
    """The same where the unit's year is at hand."""
    plan, kind = unit.plan, unit.core_kind
    ticked = ticked_keys(unit)
    sheet = sheet_of(plan, kind, words, now, carried=False)
    keyed = [step for step in sheet if step.kind in KEYED]
    pages = pages_of(plan)
    held = pages.keyed_text(plan)
    entries = bool(held)
    meant = accepted_of(unit, now)
    serious = [f for f in year.findings if f.severity != "note" and f.identity not in meant]
    by_clock = [finding for finding in serious if finding.code in BY_CLOCK]
    wanted = pages.wanted_text(plan)
    page = reverse("unit", args=[unit.pk])
    states = [
        ("kind", "Kind", unit.kind_name or "which one?", kind is not None, _if(may_edit, "unit-kind", unit)),
        (
            "clock",
            pages.clock_label,
            *_clock(by_clock, seen=_clock_seen(unit, sheet, ticked)),
            reverse("unit-clock", args=[unit.pk]),
        ),
        ("wanted", "Wanted", wanted or "nothing yet", bool(wanted), f"{page}#wanted"),
        ("keyed", "Keyed in", held or "nothing yet", entries, f"{page}#keyed"),
        ("checked", "Checked", *_checked(serious, asked=entries), f"{page}#findings"),
        (
            "sheet",
            "Sheet",
            *_sheet(unit, _ticked(sheet, keyed, ticked, asked=entries)),
            reverse("sheet", args=[unit.pk]),
        ),
        ("handover", "Handed over", *_left(sheet, ticked), reverse("handover", args=[unit.pk])),
    ]
    # A clock that nobody has looked at yet does not keep a unit from being planned: it is set with the sheet.
    later = [slug == "clock" and not by_clock for slug, *_ in states]
    open_steps = [index for index, (_, _, _, done, _) in enumerate(states) if not done]
    here = next((index for index in open_steps if not later[index]), next(iter(open_steps), len(states)))
    return Progress(
        steps=[
            ProgressStep(slug=slug, name=name, state=state, done=done, here=index == here, at=at)
            for index, (slug, name, state, done, at) in enumerate(states)
        ],
        shown=shown,
    )


def _if(may_edit: bool, name: str, unit: Unit) -> str:
    return reverse(name, args=[unit.pk]) if may_edit else ""


def _clock_seen(unit: Unit, sheet: tuple[Step, ...], ticked: set[str]) -> bool:
    """Whether somebody has set the clock: by the sheet, or in a visit that keyed the unit."""
    by_sheet = any(step.kind in ("clock", "date", "rule", "place") and step.key in ticked for step in sheet)
    return by_sheet or unit.keyed_id is not None


def _clock(by_clock: list[Finding], *, seen: bool) -> tuple[str, bool]:
    if by_clock:
        return count(len(by_clock), "finding"), False
    return ("right", True) if seen else ("not set yet", False)


def _checked(serious: list[Finding], *, asked: bool) -> tuple[str, bool]:
    if not asked:
        return "not yet", False
    return (count(len(serious), "finding"), False) if serious else ("as wanted", True)


def _ticked(sheet: tuple[Step, ...], keyed: list[Step], ticked: set[str], *, asked: bool) -> tuple[str, bool]:
    if not asked:
        return "not yet", False
    done = sum(step.key in ticked for step in sheet)
    return f"{done} of {len(sheet)} ticked", all(step.key in ticked for step in keyed)


def _sheet(unit: Unit, by_ticks: tuple[str, bool]) -> tuple[str, bool]:
    """After a visit it counts what the unit holds since then."""
    if unit.keyed is None:
        return by_ticks
    return ("keyed", True) if unit.is_keyed else ("not yet keyed", False)


def _left(sheet: tuple[Step, ...], ticked: set[str]) -> tuple[str, bool]:
    left = any(step.kind == "mode" and step.key in ticked for step in sheet)
    return ("left running", True) if left else ("not yet", False)
