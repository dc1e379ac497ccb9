"""A year of a watering unit: what its programs bring, what the plants need, and what the same run times all year would use."""

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from skavit.core.ground.arrays import DAY_S, Floats
from skavit.core.plan.water import HUNDRED, MONTHS
from skavit.core.simulation.replay import Replay
from skavit.core.text.wording import Words
from skavit.core.water.soil import Season, average_season, counted_rain, months_of, potential_mm
from skavit.core.water.stack import Stack, stack

LITRES_M3 = 1000


@dataclass(frozen=True, slots=True, kw_only=True)
class MonthlyWater:
    """One station's water month by month in mm, January first; each of shape (12,)."""

    need: Floats  # what its plants use that lack nothing
    rain: Floats  # that counts
    given: Floats  # what reaches the driest quarter


@dataclass(frozen=True, kw_only=True)
class WaterYear:
    """The water of a replay."""

    stack: Stack

    @cached_property
    def season(self) -> Season | None:
        """The balance in the average year; None where the climate, or the need of a station, is not known."""
        water = self.stack.water
        if water.climate is None or not water.stations or not all(s.need_is_known for s in water.stations):
            return None
        return average_season(self.stack, water.climate)

    @cached_property
    def litres(self) -> float:
        """What flows through all stations."""
        return sum(self.stack.litres(number) for number in range(len(self.stack.water.stations)))

    @cached_property
    def all_year_litres(self) -> float:
        """The same where every month had the whole run time."""
        water = self.stack.water
        flat = tuple(replace(program, monthly_pct=HUNDRED) for program in water.programs)
        if flat == water.programs:
            return self.litres
        run = replace(self.stack.run, plan=replace(self.stack.run.plan, water=water.with_programs(flat)))
        found = stack(run)
        assert found is not None
        return sum(found.litres(number) for number in range(len(water.stations)))

    @property
    def saved_litres(self) -> float:
        """What the months save against the same run times all year."""
        return self.all_year_litres - self.litres

    def cost(self, litres: float) -> float | None:
        """What so much water costs, in the site's money; None where its price is not known."""
        price = self.stack.water.price_m3
        return None if price is None else litres / LITRES_M3 * price

    def litres_by_month(self, station: int) -> Floats:
        """What flows through a station (from 0) in each month, January first; shape (12,)."""
        found, run = self.stack, self.stack.run
        spans = found.stations[station]
        months = months_of(run.site_clock.digits(spans.on) // DAY_S)
        minutes = (spans.off - spans.on) / 60
        summed: Floats = np.bincount(months, weights=minutes, minlength=MONTHS).astype(np.float64)
        return summed * found.water.stations[station].flow_l_min

    def dry_days(self, station: int) -> int:
        """How many dates a station (from 0) ends too dry; 0 where that is not known."""
        return 0 if self.season is None else int(self.season.settled_dry[:, station].sum())

    def by_month(self, station: int) -> MonthlyWater | None:
        """A station's months; None where its need is not known."""
        season, climate = self.season, self.stack.water.climate
        if season is None or climate is None:
            return None
        months = season.months
        et0 = np.array(climate.et0_mm_day)[months]
        need = potential_mm(self.stack.water, season.days, et0)[:, station]
        rain = counted_rain(np.array(climate.rain_mm_day)[months], et0)

        def summed(millimetres: Floats) -> Floats:
            found: Floats = np.bincount(months, weights=millimetres, minlength=MONTHS).astype(np.float64)
            return found

        return MonthlyWater(need=summed(need), rain=summed(rain), given=summed(season.irrigation[:, station]))


def water_year(run: Replay) -> WaterYear | None:
    """The water of a replay, worked out once; None where its plan has none.

    Raises :class:`RangeError` for more runs than can be told.
    """
    found = stack(run)
    if found is None:
        return None
    year: WaterYear = run.kept.setdefault("water year", WaterYear(stack=found))
    return year


def change_lines(before: WaterYear, after: WaterYear, words: Words) -> list[str]:
    """What other programs or stations would alter: millimetres and dry days of each station, litres of all; plain lines."""
    lines = []
    old, new = before.season, after.season
    names = [station.name for station in after.stack.water.stations]
    for number, name in enumerate(names):
        if new is None:
            continue
        mm = float(new.irrigation[:, number].sum())
        dry = after.dry_days(number)
        same = old is not None and number < old.irrigation.shape[1]
        was_mm = float(old.irrigation[:, number].sum()) if same and old is not None else 0.0
        was_dry = before.dry_days(number) if same else 0
        if abs(mm - was_mm) < 0.5 and dry == was_dry and same:
            continue
        dry_text = f"{dry} dry days" if dry != 1 else "1 dry day"
        told = f" instead of {words.depth(was_mm)}" if same else ""
        was = f" instead of {was_dry}" if same and dry != was_dry else ""
        lines.append(f"{name}: {words.depth(mm)}{told} reach the plants, {dry_text}{was}.")
    litres, was_litres = after.litres, before.litres
    if abs(litres - was_litres) >= 1:
        more = "more" if litres > was_litres else "less"
        lines.append(f"{words.volume(abs(litres - was_litres))} a year {more}, {words.volume(litres)} in all.")
    return lines
