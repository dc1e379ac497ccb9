"""A unit's year: what its plan does, as pages and pictures ask for it."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from skavit.charts.warmth_sheet import WarmthYear
from skavit.charts.water_year import StationYear
from skavit.charts.year import TRAIN_GAP_S, Year
from skavit.core.findings import Finding
from skavit.core.ground.arrays import DAY_S
from skavit.core.ground.spans import Spans, closed
from skavit.core.heat.state import ZoneNow, zones_now
from skavit.core.heat.targets import Warmed, targets
from skavit.core.plan.seasonal import stretches
from skavit.core.plan.sun_settings import SunSettings
from skavit.core.simulation.handover import ChannelHandover, handover, look_ahead, shows_next
from skavit.core.simulation.replay import Replay
from skavit.core.site.clock import WallClock
from skavit.core.text.wording import YEAR_DAYS
from skavit.core.water.state import WaterState, state_at
from skavit.core.water.year import WaterYear, water_year
from skavit.server.now import site_digits

# A channel that switches on more often than this pulses.
PULSES_A_DAY = 8
# A station's turn of each day of a year and its picture, in five columns, with its open times and its balance.
BYTES_A_TURN = 80_000


@dataclass(frozen=True, kw_only=True)
class UnitYear:
    """A plan replayed over a calendar year, and its picture's replay, which goes on to noon of 1 January."""

    replay: Replay
    picture: Replay
    findings: tuple[Finding, ...]
    unsearched: bool = False  # what would mend it may be found yet, by a search that takes a moment

    @cached_property
    def _years(self) -> dict[tuple[int, bool], Year]:
        """What was drawn before: a year keeps its shapes, and a page is looked at more often than changed."""
        return {}

    @cached_property
    def _ahead(self) -> dict[int, Replay]:
        return {}

    @cached_property
    def water(self) -> WaterYear | None:
        """The water of the year; None where the unit does not water."""
        return water_year(self.replay)

    @cached_property
    def water_picture(self) -> WaterYear | None:
        """The same to noon of 1 January, for what its nights show."""
        return water_year(self.picture)

    @cached_property
    def heat(self) -> Warmed | None:
        """The zones of the year; None where the unit holds no temperatures."""
        return targets(self.replay)

    @cached_property
    def heat_picture(self) -> Warmed | None:
        """The same to the end of 1 January."""
        return targets(self.picture)

    def warmth_year(self, zone: int) -> WarmthYear | None:
        """A zone (from 0) for its picture; None where the unit holds no temperatures."""
        if zone not in self._warmth:
            self._warmth[zone] = _warmth(self.heat, self.replay, zone) if self.heat else None
        return self._warmth[zone]

    @cached_property
    def _warmth(self) -> dict[int, WarmthYear | None]:
        """What was drawn before."""
        return {}

    def zones(self, now: int) -> tuple[ZoneNow, ...]:
        """What zones are held at at this moment and next; none where the unit holds no temperatures."""
        found = targets(self.ahead(now))
        return () if found is None else zones_now(found, now)

    def station_year(self, station: int) -> StationYear | None:
        """A station (from 0) for its picture: its litres where its need is not known; None where there is no station."""
        if station not in self._stations:
            self._stations[station] = self._station(station)
        return self._stations[station]

    @cached_property
    def _stations(self) -> dict[int, StationYear | None]:
        """What was drawn before."""
        return {}

    def _station(self, station: int) -> StationYear | None:
        water, count = self.water, self.replay.last - self.replay.first + 1
        if water is None or not water.stack.water.stations:
            return None
        season, months = water.season, water.by_month(station)
        if season is None or months is None:
            none = np.zeros(12)
            return StationYear(
                first=self.replay.first, count=count, need=none, rain=none, given=water.litres_by_month(station),
                depletion=np.zeros(0), ready_mm=0.0, unit="litres",
            )  # fmt: skip
        return StationYear(
            first=self.replay.first,
            count=count,
            need=months.need,
            rain=months.rain,
            given=months.given,
            depletion=season.depletion[:, station],
            ready_mm=float(season.ready[station]),
        )

    def ahead(self, now: int) -> Replay:
        """A run in which the next switchings after this moment stand: the year's, or one from today on, kept for the day."""
        if shows_next(self.picture, now) and self._shows_start(now) and self._shows_change(now):
            return self.picture
        today = site_digits(self.replay.plan.site, now) // DAY_S
        if today not in self._ahead:
            self._ahead.clear()
            self._ahead[today] = look_ahead(self.replay.plan, now)
        return self._ahead[today]

    def _shows_start(self, now: int) -> bool:
        """Whether the next start falls in the year's picture, where the unit waters at all."""
        found = self.water_picture
        return found is None or not found.stack.water.programs or bool(state_at(found.stack, now, 1).following)

    def _shows_change(self, now: int) -> bool:
        """Whether every zone that has set points still changes in the year's picture."""
        found = self.heat_picture
        return found is None or all(not each.keyed_at.size or each.actual.at[-1] > now for each in found.zones)

    def water_at(self, now: int) -> WaterState | None:
        """What a watering unit does at this moment and next; None where the unit does not water."""
        ahead = self.ahead(now)
        found = self.water_picture if ahead is self.picture else water_year(ahead)
        return None if found is None else state_at(found.stack, now)

    def leaving(self, now: int) -> tuple[ChannelHandover, ...]:
        """Each channel at this moment."""
        return handover(self.replay.plan, now, self.ahead(now))

    def year_of(self, channel: int, *, believed: bool = False) -> Year:
        """One channel (from 0) for the year sheet; ``believed``: by the unit's own clock and sun, as it shows them."""
        key = (channel, believed)
        if key not in self._years:
            self._years[key] = self._shown(channel, believed=believed)
        return self._years[key]

    def _shown(self, channel: int, *, believed: bool) -> Year:
        shown, unit = self.picture.channels[channel], self.picture.unit_clock
        if not believed:
            return self._year(channel, self.picture.site_clock, SunSettings(), shown.wanted, shown.actual)

        def moved(spans: Spans) -> Spans:
            on, off = (np.floor(t + unit.ahead_s(t) + 0.5).astype(np.int64) for t in (spans.on, spans.off))
            return Spans(on, off)

        sun = self.picture.plan.unit.sun
        shade = SunSettings() if sun.is_photocell else sun
        return self._year(channel, unit.right, shade, moved(shown.wanted), moved(shown.actual))

    def _year(self, channel: int, clock: WallClock, sun: SunSettings, wanted: Spans, actual: Spans) -> Year:
        pulsing = max(len(wanted), len(actual)) > PULSES_A_DAY * YEAR_DAYS
        return Year(
            site=self.picture.plan.site,
            clock=clock,
            first=self.replay.first,
            count=self.replay.last - self.replay.first + 1,
            # A year of pulses is kept as what draws it.
            wanted=closed(wanted, TRAIN_GAP_S) if pulsing else wanted,
            actual=closed(actual, TRAIN_GAP_S) if pulsing else actual,
            sun=sun,
            keyed_anew=tuple(
                stretch.first - self.replay.first
                for stretch in stretches(self.replay.plan.unit.keyings, self.replay.first, self.replay.last)[1:]
            ),
            by_hand=_by_hand(self.replay, channel),
            pulsing=pulsing,
        )


def _by_hand(result: Replay, channel: int) -> tuple[int, ...]:
    """The days of a replay (from 0) on which something was done by hand to a channel (from 0) or the whole unit."""
    days = {o.at // DAY_S - result.first for o in result.plan.overrides if o.channel in (None, channel + 1)}
    return tuple(sorted(day for day in days if 0 <= day <= result.last - result.first))


def held_bytes(found: UnitYear) -> int:
    """What a year holds in memory, its drawings and texts by a guess."""
    # The year is a part of its picture; what is looked ahead and drawn comes to as much again at most.
    water = found.picture.plan.water
    of_water = BYTES_A_TURN * water.turns_a_day if water else 0
    return 2 * array_bytes(found.picture) + of_water + 400_000


def array_bytes(run: Replay) -> int:
    """What the arrays of a run hold in memory."""
    return sum(array.nbytes for array in run.arrays)


def _warmth(heat: Warmed, run: Replay, zone: int) -> WarmthYear:
    here = heat.zones[zone]
    shown = np.concatenate([each.c for z in heat.zones for each in (z.wanted, z.actual)])
    return WarmthYear(
        clock=run.site_clock,
        first=run.first,
        count=run.last - run.first + 1,
        wanted=here.wanted,
        actual=here.actual,
        low_c=heat.heat.frost_c,
        high_c=float(np.nanmax(np.append(shown, heat.heat.frost_c + 1))),
    )
