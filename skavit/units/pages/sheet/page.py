"""The entry sheet of a unit, now."""

import json
from dataclasses import dataclass, replace

from skavit.core.ground.arrays import DAY_S
from skavit.core.kinds import Kind as CoreKind
from skavit.core.plan.document import Plan
from skavit.core.plan.times import day_of
from skavit.core.sheet import ESCAPE, Spell, Step, clock_runs
from skavit.core.text.wording import SHORT_DAYS, Words, weekday_date
from skavit.server.now import local_digits, year_at
from skavit.units.computing import unit_year
from skavit.units.models import Unit
from skavit.units.pages.numbered_findings import numbered_findings
from skavit.units.sheets import changes_of, proof_of, sheet_of
from skavit.units.trades import pages_of


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
    only_changed: bool  # what is in the unit already since its last visit is left out
    may_leave_out: bool  # something has changed since that visit


def ticked_keys(unit: Unit) -> set[str]:
    """The keys of the steps that were seen done."""
    return set(unit.ticks.filter(done=True).values_list("key", flat=True))


def sheet_keys(unit: Unit, words: Words, now: int) -> frozenset[str]:
    """The keys of the steps of a unit's entry sheet as it is now."""
    sheet = sheet_of(unit.plan, unit.core_kind, words, now, carried=False)
    changes = changes_of(unit, words, now) if unit.awaits_keying else ()
    return frozenset(step.key for step in (*sheet, *changes) if step.key)


def sheet_page(unit: Unit, words: Words, now: int, *, only_changed: bool = False) -> SheetPage:
    """The entry sheet of a unit, now; ``only_changed``: without the steps of what is in it since its last visit."""
    plan, kind = unit.plan, unit.core_kind
    found = unit_year(plan, year_at(plan.site, now))
    ticked = ticked_keys(unit)
    sheet = sheet_of(plan, kind, words, now)
    may_leave_out = unit.awaits_keying
    if only_changed := only_changed and may_leave_out and unit.keyed is not None:
        sheet = changes_of(unit, words, now)
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
        only_changed=only_changed,
        may_leave_out=may_leave_out,
    )


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
