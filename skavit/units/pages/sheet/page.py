"""The entry sheet of a unit, now."""

import json
from dataclasses import dataclass, replace
from enum import StrEnum

from skavit.core.ground.arrays import DAY_S
from skavit.core.kinds import Kind as CoreKind
from skavit.core.plan.document import Plan
from skavit.core.plan.seasonal import Stretch
from skavit.core.plan.times import day_of
from skavit.core.sheet import ESCAPE, Spell, Step, clock_runs
from skavit.core.text.wording import SHORT_DAYS, Words, dated_text, weekday_date
from skavit.server.now import local_digits, year_at
from skavit.units.computing import unit_year
from skavit.units.models import Unit
from skavit.units.pages.numbered_findings import numbered_findings
from skavit.units.sheets import changes_of, coming_season, proof_of, season_changes_of, season_turned, sheet_of
from skavit.units.trades import pages_of


class Part(StrEnum):
    """How much of the sheet is asked for."""

    WHOLE = ""
    CHANGED = "changed"  # what is in the unit already since its last visit is left out
    SEASON = "season"  # what keys the seasonal program that comes next


@dataclass(frozen=True, slots=True, kw_only=True)
class SpellRow:
    """What a step says from one instant until another; most steps say one thing all day."""

    first: int
    until: int
    here: bool  # that of this moment
    holds: str  # until when, where it says another thing by the hour
    step: Step
    done: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class HourRow:
    """A line of the table by the hour: from when to when, and what a step says then."""

    when: str
    text: str
    here: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class SheetRow:
    """A step of the sheet."""

    number: int
    step: Step
    done: bool
    spells: list[SpellRow]
    hours: list[HourRow]  # where it says another thing by the hour


@dataclass(frozen=True, slots=True, kw_only=True)
class SheetPage:
    """The entry sheet of a unit, now."""

    unit: Unit
    plan: Plan
    kind: CoreKind | None
    refused: list[str]  # titles of the steps that its kind cannot hold
    rows: list[SheetRow]
    unseen: list[str]  # escape doors whose caution nobody has ticked: until then nothing is printed
    total: int
    first_open: int
    all_ticked: bool
    serious: list[str]  # headlines of the findings that matter
    carried_until: int  # the instant until which its steps say what holds
    proof: str  # sent with its ticks: which steps are on it
    clock_runs: str  # what the unit's clock must show from which instant on, as JSON
    twelve: bool
    printed: str
    sheet: str
    part: Part
    may_leave_out: bool  # something has changed since the last visit
    season: str  # the seasonal program that comes next, and its date; empty where there is none to key


def ticked_keys(unit: Unit) -> set[str]:
    """The keys of the steps that were seen done."""
    return set(unit.ticks.filter(done=True).values_list("key", flat=True))


def sheet_keys(unit: Unit, words: Words, now: int) -> frozenset[str]:
    """The keys of the steps of a unit's entry sheet as it is now."""
    sheet = sheet_of(unit.plan, unit.core_kind, words, now, carried=False)
    changes = changes_of(unit, words, now) if _has_changed(unit, now) else ()
    season = season_changes_of(unit, words, now)
    return frozenset(step.key for step in (*sheet, *changes, *season) if step.key)


def _has_changed(unit: Unit, now: int) -> bool:
    """Whether something else is to be in the unit than was keyed at its last visit."""
    return unit.awaits_keying or season_turned(unit, now)


def sheet_page(unit: Unit, words: Words, now: int, part: Part = Part.WHOLE) -> SheetPage:
    """Return the entry sheet of a unit, now, or a part of it; the whole where there is no such part."""
    plan, kind = unit.plan, unit.core_kind
    found = unit_year(plan, year_at(plan.site, now))
    ticked = ticked_keys(unit)
    may_leave_out, coming = _has_changed(unit, now), coming_season(unit, now)
    if part is Part.CHANGED and may_leave_out:
        sheet = changes_of(unit, words, now)
    elif part is Part.SEASON and coming is not None:
        sheet = season_changes_of(unit, words, now)
    else:
        part, sheet = Part.WHOLE, sheet_of(plan, kind, words, now)
    proof = proof_of(unit, sheet, words, now)
    words = replace(words, twelve_hour=kind.clock.hours == 12) if kind else words
    rows = [_row(number, step, ticked, plan, words, now) for number, step in enumerate(sheet, start=1)]
    return SheetPage(
        unit=unit,
        plan=plan,
        kind=kind,
        refused=[step.title for step in sheet if step.refused],
        rows=rows,
        unseen=[step.title for step in sheet if step.kind == ESCAPE and step.key not in ticked],
        total=len(rows),
        all_ticked=all(row.done for row in rows),
        first_open=next((row.number for row in rows if not row.done), len(rows)),
        serious=[n.headline for n in numbered_findings(found, words) if n.finding.severity != "note"],
        carried_until=min((row.spells[-1].until for row in rows if row.step.spells), default=now + DAY_S),
        proof=proof,
        clock_runs=json.dumps(clock_runs(plan, now)),
        twelve=words.twelve_hour,
        printed=f"{weekday_date(local_digits(plan, now) // DAY_S)}, {_clock(plan, now, words)}",
        sheet=pages_of(found.replay.plan).sheet_picture(found, words),
        part=part,
        may_leave_out=may_leave_out,
        season=_season(plan, coming),
    )


def _season(plan: Plan, coming: Stretch | None) -> str:
    """The seasonal program that comes next, as Winter, from 6 Jan 2027."""
    if coming is None:
        return ""
    return f"{plan.unit.name_of_set(coming.keying)}, from {dated_text(coming.first)}".removeprefix(", ")


def _row(number: int, step: Step, ticked: set[str], plan: Plan, words: Words, now: int) -> SheetRow:
    spells = step.spells or (Spell(first=now, until=now, step=step),)
    return SheetRow(
        number=number,
        step=step,
        done=step.key in ticked,
        spells=[
            SpellRow(
                first=s.first,
                until=s.until,
                here=place == 0,
                holds=_moment(plan, s.until, words) if s.step.brief and step.spells else "",
                step=s.step,
                done=s.step.key in ticked,
            )
            for place, s in enumerate(spells)
        ],
        hours=[
            HourRow(when=_when(plan, s, words), text=s.step.brief, here=place == 0)
            for place, s in enumerate(step.spells)
            if s.step.brief
        ],
    )


def _when(plan: Plan, spell: Spell, words: Words) -> str:
    """From when to when, as Sat 23:00 to Sun 06:30."""
    same_day = local_digits(plan, spell.first) // DAY_S == local_digits(plan, spell.until) // DAY_S
    until = _clock(plan, spell.until, words) if same_day else _moment(plan, spell.until, words)
    return f"{_moment(plan, spell.first, words)} to {until}"


def _moment(plan: Plan, instant: int, words: Words) -> str:
    """A moment of today or tomorrow, as Sat 23:00."""
    return f"{SHORT_DAYS[day_of(local_digits(plan, instant) // DAY_S).weekday()]} {_clock(plan, instant, words)}"


def _clock(plan: Plan, instant: int, words: Words) -> str:
    return words.minute(local_digits(plan, instant) % DAY_S)
