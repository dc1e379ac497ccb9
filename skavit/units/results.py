"""Results of a unit's year: computed for its page, kept by content hash for lists."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta
from functools import cached_property, reduce
from importlib.metadata import version
from operator import or_
from threading import Lock
from typing import Any

import numpy as np
from cachetools import LRUCache
from django.db.models import Case, Q, Value, When

from skavit.apart.switch import AS_ANSWERING_BEGINS, TO_WORKER, TakesLong
from skavit.charts.warmth_sheet import WarmthYear
from skavit.charts.water_year import StationYear
from skavit.charts.year import TRAIN_GAP_S, Year
from skavit.core.findings import Finding, Severity, audit
from skavit.core.findings.case import Budgets
from skavit.core.findings.tolerance import audit_within
from skavit.core.ground.arrays import DAY_S
from skavit.core.ground.spans import Spans, closed
from skavit.core.heat.moment import ZoneNow, zones_now
from skavit.core.heat.targets import Warmed, targets
from skavit.core.memory.naming import slot_names
from skavit.core.plan.document import Plan
from skavit.core.plan.keyings import stretches
from skavit.core.plan.sun_settings import SunSettings
from skavit.core.plan.times import day_of
from skavit.core.simulation.handover import SOON_DAYS, ChannelHandover, handover, look_ahead, shows_next
from skavit.core.simulation.replay import Replay, replay
from skavit.core.site.clock import WallClock
from skavit.core.text.wording import YEAR_DAYS, Words
from skavit.core.water.moment import Moment, moment
from skavit.core.water.year import WaterYear, water_year
from skavit.now import site_digits, year_at
from skavit.turns import turn
from skavit.units.models import Unit, YearResult
from skavit.units.trades import pages_of

# Raise with every change to a computed result, together with a "calculation" line in the CHANGELOG.
CORE_RELEASE = "10"
# A channel that switches on more often than this pulses.
PULSES_A_DAY = 8
# What a process keeps of years that were looked at, and one that answers for large plans.
KEPT_BYTES, KEPT_BY_WORKER = 128_000_000, 400_000_000
# A station's turn of each day of a year and its picture, in five columns, with its open times and its balance.
BYTES_A_TURN = 80_000
CALCULATION = f"core {CORE_RELEASE}, tzdata {version('tzdata')}"


@dataclass(frozen=True, kw_only=True)
class UnitYear:
    """A plan replayed over a calendar year, and its picture's replay, which goes on to noon of 1 January."""

    replay: Replay
    picture: Replay
    findings: tuple[Finding, ...]

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
        """Whether the next start stands in the year's picture, where the unit waters at all."""
        found = self.water_picture
        return found is None or not found.stack.water.programs or bool(moment(found.stack, now, 1).following)

    def _shows_change(self, now: int) -> bool:
        """Whether every zone that has set points still changes in the year's picture."""
        found = self.heat_picture
        return found is None or all(not each.keyed_at.size or each.actual.at[-1] > now for each in found.zones)

    def moment(self, now: int) -> Moment | None:
        """What a watering unit does at this moment and next; None where the unit does not water."""
        ahead = self.ahead(now)
        found = self.water_picture if ahead is self.picture else water_year(ahead)
        return None if found is None else moment(found.stack, now)

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


def _bytes(found: UnitYear) -> int:
    """What a year holds in memory, its drawings and texts by a guess."""
    # The year is a part of its picture; what is looked ahead and drawn comes to as much again at most.
    water = found.picture.plan.water
    of_water = BYTES_A_TURN * water.turns_a_day if water else 0
    return 2 * _array_bytes(found.picture) + of_water + 400_000


def _array_bytes(run: Replay) -> int:
    return sum(array.nbytes for array in run.arrays)


_KEPT: LRUCache[tuple[str, int], UnitYear] = LRUCache(KEPT_BYTES, getsizeof=_bytes)
_LOOKING, _WORKING = Lock(), Lock()
# A plan of more windows and entries than this is worked out by the worker, not in a request.
LARGE = 60
POINTS_AN_ENTRY = 4  # so many set points take as long as an entry: they are drawn by day groups


def _is_left(plan: Plan) -> bool:
    """Whether this process leaves a plan to the worker: it counts windows, entries and what takes as long."""
    if not TO_WORKER.on:
        return False
    size = len(plan.unit.all_entries) + sum(len(channel.windows) for channel in plan.channels)
    size += plan.water.turns_a_day if plan.water else 0
    size += sum(len(zone.wanted) + len(zone.keyed) for zone in plan.heat.zones) // POINTS_AN_ENTRY if plan.heat else 0
    return size > LARGE


def leave_large(plan: Plan) -> None:
    """Leave a request whose plan is large to the worker, where this process does. Raises :class:`TakesLong`."""
    if _is_left(plan):
        raise TakesLong


def unit_year(plan: Plan, year: int, *, mends: bool = True) -> UnitYear:
    """Replay and audit a calendar year; the last are kept, since a page is looked at more often than changed.

    ``mends`` false: without remedies, where none are shown.

    A process works one out at a time: whoever asks for the same meanwhile waits for it, and lighter pages go on.
    """
    whole = (plan.content_hash(), year)
    key = whole if mends else (f"{whole[0]} without remedies", year)
    with _LOOKING:
        kept = _KEPT.get(whole) or _KEPT.get(key)
    if kept is not None:
        return kept
    leave_large(plan)
    with turn(_WORKING):
        with _LOOKING:
            kept = _KEPT.get(key)
        if kept is None:
            kept = _work_out(plan, year, mends=mends)
            _keep(key, kept)
    return kept


def _keep_more() -> None:
    """A process that only answers for large plans keeps the years of more of them."""
    global _KEPT  # noqa: PLW0603  decided once, as the process begins
    _KEPT = LRUCache(KEPT_BY_WORKER, getsizeof=_bytes)


AS_ANSWERING_BEGINS.append(_keep_more)


def _keep(key: tuple[str, int], found: UnitYear) -> None:
    """Keep a year, unless it is larger than all that may be kept."""
    with _LOOKING:
        if _bytes(found) < _KEPT.maxsize:
            _KEPT[key] = found


def unit_year_within(plan: Plan, year: int, clock_min: int, sun_min: int) -> UnitYear:
    """The same, judged under so many minutes of error of clock and sun either way."""
    key = (f"{plan.content_hash()} within {clock_min} {sun_min}", year)
    strict = unit_year(plan, year)
    with _LOOKING:
        kept = _KEPT.get(key)
    if kept is None:
        with turn(_WORKING):
            found = audit_within(plan, date(year, 1, 1), date(year, 12, 31), clock_min=clock_min, sun_min=sun_min)
        kept = replace(strict, findings=found)
        _keep(key, kept)
    return kept


def _work_out(plan: Plan, year: int, *, mends: bool) -> UnitYear:
    picture = replay(plan, date(year, 1, 1), date(year + 1, 1, 1))
    whole = picture.ending(date(year, 12, 31))
    findings = audit(whole, budgets=Budgets() if mends else Budgets.without_remedies())
    return UnitYear(replay=whole, picture=picture, findings=findings)


def year_result(unit: Unit, year: int) -> YearResult:
    """The kept result of a unit's year; made where there is none yet."""
    return _year_results([(unit, year)], mends=True)[0]


def _year_results(asked: Sequence[tuple[Unit, int]], *, mends: bool) -> list[YearResult]:
    """The kept result of each unit's year; those that there are not yet are made, and written together."""
    keys = [(unit.plan.content_hash(), year) for unit, year in asked]
    there = YearResult.objects.filter(
        content_hash__in={key for key, _ in keys}, year__in={year for _, year in keys}, calculation=CALCULATION
    )
    kept = {(one.content_hash, one.year): one for one in there}
    made = {
        key: _worked_out(unit, *key, mends=mends) for key, (unit, _) in zip(keys, asked, strict=True) if key not in kept
    }
    if made:
        # Where somebody else has just written the same, the row is theirs.
        YearResult.objects.bulk_create(
            made.values(),
            update_conflicts=True,
            unique_fields=("content_hash", "year", "calculation"),
            update_fields=("place",),
        )
    return [kept.get(key) or made[key] for key in keys]


def _worked_out(unit: Unit, content_hash: str, year: int, *, mends: bool) -> YearResult:
    plan = unit.plan
    found = unit_year(plan, year, mends=mends)
    return YearResult(
        content_hash=content_hash,
        year=year,
        calculation=CALCULATION,
        severity=found.findings[0].severity.value if found.findings else "",
        findings=[_kept(finding, plan) for finding in found.findings],
        thumbnail=pages_of(plan).thumbnail(found, f"thumb-{content_hash[:12]}"),
        place=unit.site.place_key,
    )


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


def _kept(finding: Finding, plan: Plan) -> dict[str, Any]:
    """A finding as it is kept, with what its slots are called where they do not count as the entries do."""
    names = slot_names(plan.unit.sets[finding.keying], plan.unit.limits)
    return finding.kept() | ({"names": {slot: names[slot - 1] for slot in finding.slots}} if names else {})


def kept_words(raw: dict[str, Any], words: Words) -> Words:
    """The words in which a kept finding names its slots."""
    names = {int(slot): name for slot, name in raw.get("names", {}).items()}
    return words.of_slots(tuple(names.get(slot, f"slot {slot}") for slot in range(1, max(names, default=0) + 1)))


# What lies ahead of units in lists, by content and date: a fortnight, or a year where little switches.
_AHEAD: LRUCache[tuple[str, int], Replay] = LRUCache(
    KEPT_BYTES // 4, getsizeof=lambda run: 2 * _array_bytes(run) + 20_000
)


def _looked_ahead(unit: Unit, now: int) -> Replay:
    """A replay of what lies ahead of a unit, for a list, kept for the day: of what is at hand not even the plan is read."""
    today, kept = site_digits(unit.site.place, now) // DAY_S, unit.result
    if kept is not None and is_fresh(unit, year_at(unit.site.place, now)):
        with _LOOKING:
            year, ahead = _KEPT.get((kept.content_hash, kept.year)), _AHEAD.get((kept.content_hash, today))
        if year is not None:
            return year.ahead(now)
        if ahead is not None:
            return ahead
    plan, first = unit.plan, day_of(today)
    found = look_ahead(plan, now) if plan.channels else replay(plan, first, first + timedelta(days=SOON_DAYS))
    with _LOOKING:
        if _AHEAD.getsizeof(found) <= _AHEAD.maxsize:
            _AHEAD[plan.content_hash(), today] = found
    return found


def leaving_now(unit: Unit, now: int) -> tuple[ChannelHandover, ...]:
    """Each channel of a unit at this moment, for a list; no year is worked out."""
    ahead = _looked_ahead(unit, now)
    return handover(ahead.plan, now, ahead)


def moment_now(unit: Unit, now: int) -> Moment | None:
    """What a watering unit does at this moment and within a fortnight, for a list; None where it does not water."""
    water = water_year(_looked_ahead(unit, now))
    return None if water is None else moment(water.stack, now)


def zones_at(unit: Unit, now: int) -> tuple[ZoneNow, ...]:
    """What a unit's zones are held at at this moment and within a fortnight, for a list; none where it holds none."""
    found = targets(_looked_ahead(unit, now))
    return () if found is None else zones_now(found, now)


# Of the worst finding: a unit that needs somebody.
SERIOUS = (Severity.DANGER.value, Severity.WARNING.value)
# What else is kept of a unit, and follows from its plan: rooms above put it down here when the application begins.
FOLLOWED_BY: list[Callable[[Sequence[Unit], int], None]] = []


def keep_result(unit: Unit, now: int) -> None:
    """Work out this year's result of a unit that is being looked at, with what would mend it: its page shows it next."""
    keep_results([unit], now, mends=True)


def keep_results(units: Sequence[Unit], now: int, *, mends: bool = False) -> None:
    """Work out this year's results of units, and let each point to its own, unless its plan has moved on meanwhile.

    ``mends`` false: without what would mend them, which no list shows. Those of large plans stay as they are where the
    worker is to work them out: the round sees that they are stale.
    """
    units = [unit for unit in units if not _is_left(unit.plan)]
    if not units:
        return
    found = _year_results([(unit, year_at(unit.site.place, now)) for unit in units], mends=mends)
    for unit, result in zip(units, found, strict=True):
        unit.result = result
    as_it_was = reduce(or_, (Q(pk=unit.pk, head=unit.head_id) for unit in units))
    own = Case(*(When(pk=unit.pk, then=Value(result.pk)) for unit, result in zip(units, found, strict=True)))
    Unit.objects.filter(as_it_was).update(result=own)
    for follow in FOLLOWED_BY:
        follow(units, now)


def is_fresh(unit: Unit, year: int) -> bool:
    """Whether the result that a unit points to still holds.

    Services renew it at each edit; but a year ends, a site moves, and a release comes.
    """
    kept = unit.result
    return (
        kept is not None and kept.year == year and kept.calculation == CALCULATION and kept.place == unit.site.place_key
    )
