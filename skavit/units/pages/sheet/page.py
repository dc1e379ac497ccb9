"""The entry sheet of a unit, now."""

from dataclasses import dataclass

from skavit.charts.year_sheet import OFF_THE_SHEET, year_sheet
from skavit.core.ground.arrays import DAY_S
from skavit.core.ground.errors import SkavitError
from skavit.core.kinds import Kind as CoreKind
from skavit.core.plan.document import Plan
from skavit.core.sheet import Step, digits_to_set, steps
from skavit.core.simulation.handover import ChannelHandover
from skavit.core.text.wording import Words, capital, weekday_date
from skavit.now import local_digits, year_at
from skavit.units.models import Unit
from skavit.units.results import UnitYear, unit_year


@dataclass(frozen=True, slots=True, kw_only=True)
class SheetRow:
    """A step of the sheet."""

    number: int
    step: Step
    done: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class Leaving:
    """What a channel does at this moment and next."""

    name: str
    state: str
    next: list[str]


@dataclass(frozen=True, slots=True, kw_only=True)
class SheetPage:
    """The entry sheet of a unit, now."""

    unit: Unit
    plan: Plan
    kind: CoreKind | None
    kind_error: str  # why it stands without its kind's keys
    rows: list[SheetRow]
    total: int
    first_open: int
    serious: list[str]  # headlines of the findings that matter
    digits: int  # what the unit's clock must show
    twelve: bool
    leaving: list[Leaving]
    printed: str
    sheet: str


def sheet_steps(
    unit: Unit, found: UnitYear, leaving: tuple[ChannelHandover, ...], words: Words, now: int
) -> tuple[tuple[Step, ...], str]:
    """The steps for keying the unit now; without its kind's keys, and why, where that kind cannot hold the plan."""
    plan = unit.plan
    try:
        return steps(plan, found.replay, leaving, now, words, unit.core_kind), ""
    except SkavitError as error:
        return steps(plan, found.replay, leaving, now, words), capital(str(error))


def ticked_keys(unit: Unit) -> set[str]:
    """The keys of the steps that were seen done."""
    return set(unit.ticks.filter(done=True).values_list("key", flat=True))


def sheet_keys(unit: Unit, words: Words, now: int) -> frozenset[str]:
    """The keys of the steps of a unit's entry sheet as it stands."""
    found = unit_year(unit.plan, year_at(unit.plan.site, now))
    sheet, _ = sheet_steps(unit, found, found.leaving(now), words, now)
    return frozenset(step.key for step in sheet)


def sheet_page(unit: Unit, words: Words, now: int) -> SheetPage:
    """The entry sheet of a unit, now."""
    plan, kind = unit.plan, unit.core_kind
    found = unit_year(plan, year_at(plan.site, now))
    leaving = found.leaving(now)
    ticked = ticked_keys(unit)
    sheet, kind_error = sheet_steps(unit, found, leaving, words, now)
    rows = [SheetRow(number=n, step=step, done=step.key in ticked) for n, step in enumerate(sheet, start=1)]
    return SheetPage(
        unit=unit,
        plan=plan,
        kind=kind,
        kind_error=kind_error,
        rows=rows,
        total=len(rows),
        first_open=next((row.number for row in rows if not row.done), len(rows)),
        serious=[f.facts.headline(words) for f in found.findings if f.severity != "note"],
        digits=digits_to_set(plan, now),
        twelve=kind.clock.hours == 12 if kind else words.twelve_hour,
        leaving=[_leaving(plan, channel, words) for channel in leaving],
        printed=weekday_date(local_digits(plan, now) // DAY_S),
        sheet=year_sheet(found.year_of(0), marks=[], cursor=OFF_THE_SHEET, today=None, words=words),
    )


def _leaving(plan: Plan, channel: ChannelHandover, words: Words) -> Leaving:
    coming = [(local_digits(plan, s.instant), "ON" if s.on else "OFF") for s in channel.next]
    return Leaving(
        name=channel.name,
        state="ON" if channel.program else "OFF",
        next=[f"{words.minute(at % DAY_S)} {action}, {weekday_date(at // DAY_S)}" for at, action in coming],
    )
