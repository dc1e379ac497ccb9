"""More water than plants need, and as much as they need in its place: `too-wet`."""

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np

from skavit.core.findings.acts import WaterByNeed
from skavit.core.findings.facts import NUMBER, SAID, WHOLE, Facts
from skavit.core.findings.finding import Finding, Severity
from skavit.core.findings.remedy import Remedy
from skavit.core.findings.watering import Watered, WaterRule, WithPrograms
from skavit.core.ground.arrays import MINUTE_S, Floats
from skavit.core.ground.records import member
from skavit.core.plan.water import MONTHS, Climate, Program
from skavit.core.text.wording import Words
from skavit.core.water.drafting import run_step_min
from skavit.core.water.need import litres_of_mm, net_need_mm_day
from skavit.core.water.soil import Season, average_season
from skavit.core.water.year import LITRES_M3

# Common practice, no source: a third more than the need is what the shape of programs costs; beyond it water is wasted.
MOST_OVER = 1.35
MUCH_OVER = 1.5  # from so many times the need on it is a warning
LEAST_WASTE_MM = 20  # a year; less is not worth a word
MARGINS = (1.0, 1.15, 1.3)  # times the need, until no station is drier than before


@dataclass(frozen=True, slots=True, kw_only=True)
class Wet(Facts):
    """Water beyond the need."""

    station: str = member(SAID)
    share: float = member(NUMBER)  # of the need
    litres: float = member(NUMBER)  # a year
    cost: float | None = member(NUMBER, default=None)  # of them, in the site's money
    months: int = member(WHOLE, default=1)  # 1 where the unit has a percentage for each, else 0

    def headline(self, words: Words) -> str:
        """How much more than is needed."""
        return f"{self.station} gets {self.share:.1f} times the water that it needs"

    def why(self, words: Words) -> str:
        """What that is in a year."""
        how = (
            "A lower share of the cool months saves most of it."
            if self.months
            else "The unit knows no months: its season turned down by hand in the cool ones saves most of it."
        )
        cost = "" if self.cost is None else f", {self.cost:,.2f} in money"
        return f"About {words.volume(self.litres)} a year drain away{cost}. {how}"


class TooWet(WaterRule):
    """More water than is needed by much."""

    slug = "too-wet"
    description = "in the average year a station gets far more water than its plants need"
    facts = (Wet,)

    def find(self, of: Watered) -> Iterator[Finding]:
        """One for each station."""
        climate = of.water.climate
        if of.season is None or climate is None:
            return
        needs = [float(net_need_mm_day(s, climate)[of.season.months].sum()) for s in of.water.stations]
        totals = of.season.irrigation.sum(axis=0).tolist()
        wasteful = [
            number
            for number, (need, total) in enumerate(zip(needs, totals, strict=True))
            if total > MOST_OVER * need and (total - need) / of.case.years >= LEAST_WASTE_MM
        ]
        remedy = by_need(of.alone, climate) if wasteful else None
        for number in wasteful:
            station, need, total = of.water.stations[number], needs[number], totals[number]
            given = of.season.irrigation[:, number]
            litres = litres_of_mm(station, (total - need) / of.case.years)
            facts = Wet(
                station=station.name, share=total / max(need, 1e-9) if need else math.inf, litres=litres,
                months=int(of.water.limits.monthly),
                cost=None if of.water.price_m3 is None else litres / LITRES_M3 * of.water.price_m3,
            )  # fmt: skip
            if math.isinf(facts.share):
                facts = replace(facts, share=99.0)
            months = of.season.months[given > 0]
            wet = np.isin(of.season.months, months) & (given > 0)
            severity = Severity.WARNING if total >= MUCH_OVER * need else Severity.NOTE
            made = of.case.make(self.slug, None, facts, dates=of.season.days[wet], severity=severity, remedy=remedy)
            # The hours for which it waters too long: what wastes most is told first.
            yield replace(made, hours=litres / station.flow_l_min / 60)


def by_need(of: Watered, climate: Climate) -> Remedy | None:
    """All programs with the run times and months that the need asks for; None where a station would be drier than it is.

    No run grows longer, and no month's share greater.
    """
    before = of.season
    if before is None:
        return None
    needs = np.array([net_need_mm_day(station, climate) for station in of.water.stations]).T
    days = np.bincount(before.months, minlength=MONTHS)
    given = np.array([before.irrigation[before.months == month].sum(axis=0) for month in range(MONTHS)])
    with np.errstate(divide="ignore", invalid="ignore"):
        parts = np.nan_to_num(needs * days[:, None] / given, nan=0.0, posinf=1.0)
    for margin in MARGINS:
        programs = tuple(_lessened(of, program, np.minimum(parts * margin, 1.0)) for program in of.water.programs)
        then = of.under(programs)
        if then is None:
            return None
        after = average_season(then, climate)
        if of.no_worse(then) and (after.settled_dry.sum(axis=0) <= before.settled_dry.sum(axis=0)).all():
            saved = _litres(of, before) - _litres(of, after)
            act = WaterByNeed(saves_l=saved / of.case.years)
            return Remedy(act=act, change=WithPrograms(programs)) if saved > 0 else None
    return None


def _lessened(of: Watered, program: Program, parts: Floats) -> Program:
    """A program with the part of its water that its stations need; ``parts`` of shape (12, stations)."""
    stations = [run.station - 1 for run in program.runs]
    if not stations:
        return program
    limits, step = of.water.limits, run_step_min(of.water)
    own = parts[:, stations]
    kept = own.max(axis=0)
    runs = tuple(
        replace(run, run_min=round(min(max(math.ceil(run.run_min * part / step - 1e-9), 1) * step, run.run_min), 6))
        for run, part in zip(program.runs, kept.tolist(), strict=True)
    )
    if not limits.monthly:
        return replace(program, runs=runs)
    pct = limits.monthly_step_pct or 1.0
    left = np.array(
        [run.run_min / old.run_min if old.run_min else 1.0 for run, old in zip(runs, program.runs, strict=True)]
    )
    shares = (own / np.maximum(left, 1e-9)).max(axis=1)
    # A share that is there at all lets even the shortest run last a step.
    shortest = min((run.run_min for run in runs if run.run_min), default=1.0) * (program.adjust_pct or 100.0) / 100
    least_pct = 100 * of.water.run_step_s / MINUTE_S / shortest
    months = tuple(
        min(math.ceil(max(now * share, least_pct) / pct - 1e-9) * pct, now) if share else 0.0
        for now, share in zip(program.monthly_pct, shares.tolist(), strict=True)
    )
    return replace(program, runs=runs, monthly_pct=months)


def _litres(of: Watered, season: Season) -> float:
    """What flows for what reaches the stations."""
    given = season.irrigation.sum(axis=0).tolist()
    return sum(litres_of_mm(station, mm) for station, mm in zip(of.water.stations, given, strict=True))
