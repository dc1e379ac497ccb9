"""Watering: stations, the programs keyed into a controller, and what the plants need (docs/plan-file.md, "Watering")."""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from fractions import Fraction
from functools import lru_cache
from typing import Any

from skavit.core.ground.arrays import DAY_S
from skavit.core.ground.errors import PlanError
from skavit.core.ground.records import Form, Record, flag, listed, member, number, positive, record, whole, word
from skavit.core.ground.strict_json import MAX_ITEMS, Node, ObjectNode
from skavit.core.plan.days import DAILY, DAYS_REF, Days, Holiday
from skavit.core.plan.identity import IDENTITY, NAME
from skavit.core.plan.times import LOCAL_DATETIME, TIME, Time
from skavit.core.plan.window import WINDOW_REF, Window

BUSY = ("queue", "ignore", "parallel")
DAY_RULES = ("any", "parity", "interval")
MONTHS = 12
HUNDRED = (100.0,) * MONTHS
MAX_RUN_MIN = 10_080
MAX_PCT = 1_000
MAX_FLOW_L_MIN = 100_000
MAX_AREA_M2 = 10_000_000
MAX_RATE_MM_H = 10_000
MAX_CROP = 5
MAX_AVAILABLE_MM_M = 1_000
MAX_ROOT_M = 50
MAX_SURFACE_MM = 1_000
MAX_MM_DAY = 1_000
MAX_GAP_DAYS = 31
MAX_DELAY_DAYS = 366
MAX_PROGRAMS = 1_000
MAX_INTERVAL_DAYS = 366
MAX_PRICE = 10_000
MAX_PRESSURE_KPA = 10_000


def monthly(item: Form) -> Form:
    """Twelve values, January first."""

    def read(node: Node) -> tuple[Any, ...]:
        each = node.items("twelve values, January first")
        if len(each) != MONTHS:
            node.refuse("twelve values, January first", f"a list of {len(each)}")
        return tuple(item.read(one) for one in each)

    schema = listed(item, least=MONTHS).schema
    return Form(read=read, write=list, schema=lambda: schema() | {"maxItems": MONTHS})


def _one_or_monthly(item: Form) -> Form:
    """One value for all the year, or twelve; kept as twelve, or as one."""
    twelve = monthly(item)
    return Form(
        read=lambda node: twelve.read(node) if isinstance(node.value, list) else (item.read(node),),
        write=lambda values: values[0] if len(values) == 1 else list(values),
        schema=lambda: {"anyOf": [item.schema(), twelve.schema()]},
    )


PERCENT = number(0, MAX_PCT)


@dataclass(frozen=True, slots=True, kw_only=True)
class Soil(Record):
    """What the soil of a station holds, takes in, and gives to the roots."""

    available_mm_m: float = member(positive(MAX_AVAILABLE_MM_M))
    root_m: float = member(positive(MAX_ROOT_M))
    depletion: float = member(positive(1))  # p of FAO-56: the share that may be used up before the plants suffer
    intake_mm_h: float = member(positive(MAX_RATE_MM_H))
    surface_mm: float = member(positive(MAX_SURFACE_MM))

    @property
    def total_mm(self) -> float:
        """All the water that the roots can take, TAW (FAO-56 equation 82)."""
        return self.available_mm_m * self.root_m

    @property
    def ready_mm(self) -> float:
        """What may be used up before the plants suffer, RAW (FAO-56 equation 83)."""
        return self.depletion * self.total_mm


@dataclass(frozen=True, slots=True, kw_only=True)
class Station(Record):
    """A valve and what it waters."""

    id: str | None = member(IDENTITY, default=None)
    name: str = member(NAME)
    flow_l_min: float = member(positive(MAX_FLOW_L_MIN))
    area_m2: float | None = member(positive(MAX_AREA_M2), default=None)
    rate_mm_h: float | None = member(positive(MAX_RATE_MM_H), default=None)
    du: float = member(positive(1), default=1.0)
    crop: tuple[float, ...] | None = member(_one_or_monthly(positive(MAX_CROP)), default=None)
    per_week: int | None = member(whole(1, 7), default=None)  # waterings that somebody asked for, at the least
    max_gap_days: int | None = member(whole(1, MAX_GAP_DAYS), default=None)  # from one watering to the next in a fit
    soil: Soil | None = member(record(Soil), default=None)

    @property
    def rate(self) -> float | None:
        """Precipitation rate in mm an hour: as given, or flow over area; None where neither tells it."""
        if self.rate_mm_h is not None or self.area_m2 is None:
            return self.rate_mm_h
        return self.flow_l_min * 60 / self.area_m2

    @property
    def need_is_known(self) -> bool:
        """Whether it is known what its plants need, and how fast it waters."""
        return self.crop is not None and self.soil is not None and self.rate is not None

    def crop_in(self, month: int) -> float:
        """The crop coefficient of a month, 0 for January; 1, that of the reference grass, where none is given."""
        if self.crop is None:
            return 1.0
        return self.crop[month % len(self.crop)]


@dataclass(frozen=True, slots=True, kw_only=True)
class Run(Record):
    """One station's turn in a program."""

    station: int = member(whole(1, MAX_ITEMS))  # from 1
    run_min: float = member(number(0, MAX_RUN_MIN))


@dataclass(frozen=True, slots=True, kw_only=True)
class Program(Record):
    """Stations that run one after another at each of its starts on its days."""

    id: str | None = member(IDENTITY, default=None)
    name: str = member(NAME)
    days: Days = member(DAYS_REF, default=DAILY, always=True)
    starts: tuple[Time, ...] = member(listed(TIME, "start times"))
    runs: tuple[Run, ...] = member(listed(record(Run), "runs"))
    adjust_pct: float = member(PERCENT, default=100.0)
    monthly_pct: tuple[float, ...] = member(monthly(PERCENT), default=HUNDRED)

    def run_seconds(self, month: int, step_s: int) -> tuple[int, ...]:
        """The seconds of each run in a month, 0 for January: by both percentages, rounded once to the step, halves up."""
        return _run_seconds(tuple(run.run_min for run in self.runs), self.adjust_pct, self.monthly_pct[month], step_s)


@lru_cache(maxsize=4096)
def _run_seconds(runs_min: tuple[float, ...], adjust_pct: float, monthly_pct: float, step_s: int) -> tuple[int, ...]:
    share = exact(adjust_pct) * exact(monthly_pct) * 60 / (10_000 * step_s)
    return tuple(_nearest(exact(run_min), share) * step_s for run_min in runs_min)


def _nearest(a: Fraction, b: Fraction) -> int:
    """The whole number nearest to a product, halves up."""
    over, under = a.numerator * b.numerator, a.denominator * b.denominator
    return (2 * over + under) // (2 * under)


@lru_cache(maxsize=4096)
def exact(value: float) -> Fraction:
    """The number as it is written in decimals."""
    return Fraction(str(value))


@dataclass(frozen=True, slots=True, kw_only=True)
class MasterValve(Record):
    """A valve or pump that is open while a cycle runs, from before it until after it."""

    lead_s: int = member(whole(0, DAY_S), default=0)
    lag_s: int = member(whole(0, DAY_S), default=0)


@dataclass(frozen=True, slots=True, kw_only=True)
class RainDelay(Record):
    """No starts from a moment up to the same local time so many days on."""

    at: int = member(LOCAL_DATETIME)
    days: int = member(whole(1, MAX_DELAY_DAYS))


BY_HAND = -1  # in place of a program, where a station was run by hand
_DOES = ("station", "program", "off", "off_days", "auto")


@dataclass(frozen=True, slots=True, kw_only=True)
class WaterOverride(Record):
    """What somebody does to the controller: a station or a program run by hand, watering suspended or let go on."""

    at: int = member(LOCAL_DATETIME)
    station: int | None = member(whole(1, MAX_ITEMS), default=None)  # from 1: run once, for `run_min`
    run_min: float | None = member(positive(MAX_RUN_MIN), default=None)
    program: int | None = member(whole(1, MAX_PROGRAMS), default=None)  # from 1: run once, as keyed
    off: bool = member(flag(), default=False)  # suspended until it is ended
    off_days: int | None = member(whole(1, MAX_DELAY_DAYS), default=None)  # until the same local time so many days on
    auto: bool = member(flag(), default=False)  # let go on

    @classmethod
    def judged(cls, keys: ObjectNode, given: dict[str, Any]) -> dict[str, Any]:
        """Just one thing done, and minutes beside a station only."""
        done = [name for name in _DOES if given.get(name)]
        if len(done) != 1:
            raise PlanError(keys.path, f"{len(done)} things at once", f"just one of {', '.join(_DOES)}")
        if (given.get("run_min") is not None) != (done == ["station"]):
            raise PlanError(f"{keys.path}.run_min", "stands by itself or is missing", "run_min beside station")
        return given

    @property
    def suspends(self) -> bool:
        """Whether it changes that programs run at all."""
        return self.off or self.auto or self.off_days is not None


@dataclass(frozen=True, slots=True, kw_only=True)
class Climate(Record):
    """The average year: millimetres a day of each month, January first."""

    et0_mm_day: tuple[float, ...] = member(monthly(number(0, MAX_MM_DAY)))
    rain_mm_day: tuple[float, ...] = member(monthly(number(0, MAX_MM_DAY)))


@dataclass(frozen=True, slots=True, kw_only=True)
class WaterLimits(Record):
    """What a controller's programs can hold; a limit that is None does not bind."""

    programs: int | None = member(whole(1, MAX_PROGRAMS), default=None)
    starts: int | None = member(whole(1, MAX_PROGRAMS), default=None)  # of each program
    stations: int | None = member(whole(1, MAX_PROGRAMS), default=None)  # in each program
    run_max_min: float | None = member(positive(MAX_RUN_MIN), default=None)
    run_step_min: float | None = member(positive(MAX_RUN_MIN), default=None)
    days: tuple[str, ...] | None = member(listed(word(DAY_RULES), "rules for days", least=1), default=None)
    interval_max_days: int | None = member(whole(1, MAX_INTERVAL_DAYS), default=None)
    adjust_max_pct: float | None = member(PERCENT, default=None)
    adjust_step_pct: float | None = member(positive(MAX_PCT), default=None)
    monthly: bool = member(flag(), default=True)  # whether a program has a percentage for each month
    monthly_step_pct: float | None = member(positive(MAX_PCT), default=None)


NO_WATER_LIMITS = WaterLimits()
NO_MASTER = MasterValve()


@dataclass(frozen=True, slots=True, kw_only=True)
class Water(Record):
    """The watering side of a plan."""

    stations: tuple[Station, ...] = member(listed(record(Station).named("station"), "stations"))
    programs: tuple[Program, ...] = member(listed(record(Program).named("program"), "programs"))
    when_busy: str = member(word(BUSY), default="queue")
    run_step_s: int = member(whole(1, 3600), default=60)
    station_delay_s: int = member(whole(0, DAY_S), default=0)
    master_valve: MasterValve = member(record(MasterValve), default=NO_MASTER)
    supply_l_min: float | None = member(positive(MAX_FLOW_L_MIN), default=None)  # what the supply gives at once
    supply_kpa: float | None = member(positive(MAX_PRESSURE_KPA), default=None)  # that is left while it gives so much
    price_m3: float | None = member(number(0, MAX_PRICE), default=None)  # of a cubic metre, in the site's money
    off_dates: tuple[Holiday, ...] = member(listed(record(Holiday), "off dates"), default=())
    lay_up: Holiday | None = member(record(Holiday), default=None)  # the winter in which it is drained and off
    rain_delays: tuple[RainDelay, ...] = member(listed(record(RainDelay), "rain delays"), default=())
    by_hand: tuple[WaterOverride, ...] = member(listed(record(WaterOverride), "things done by hand"), default=())
    manual_while_off: bool = member(flag(), default=True)  # stations can be run by hand while watering is suspended
    allowed: tuple[Window, ...] | None = member(listed(WINDOW_REF, "windows"), default=None)
    climate: Climate | None = member(record(Climate), default=None)
    limits: WaterLimits = member(record(WaterLimits), default=NO_WATER_LIMITS)

    @classmethod
    def judged(cls, keys: ObjectNode, given: dict[str, Any]) -> dict[str, Any]:
        """Runs of stations that there are."""
        count = len(given["stations"])
        for p, program in enumerate(given["programs"]):
            for r, run in enumerate(program.runs):
                if run.station > count:
                    path = f"{keys.path}.programs[{p}].runs[{r}].station"
                    raise PlanError(path, f"{run.station} is not accepted", _stations_accepted(count))
        for place, done in enumerate(given.get("by_hand", ())):
            path = f"{keys.path}.by_hand[{place}]"
            if done.station is not None and done.station > count:
                raise PlanError(f"{path}.station", f"{done.station} is not accepted", _stations_accepted(count))
            if done.program is not None and done.program > len(given["programs"]):
                raise PlanError(f"{path}.program", f"{done.program} is not accepted", "a program's number")
        return given

    @property
    def turns_a_day(self) -> int:
        """How many turns stations have on a day on which every program waters."""
        return sum(len(program.starts) * len(program.runs) for program in self.programs)

    @property
    def without_water(self) -> tuple[Holiday, ...]:
        """All dates on which no start acts."""
        return self.off_dates if self.lay_up is None else (*self.off_dates, self.lay_up)

    def program_name(self, program: int) -> str:
        """What a program (from 0) is called; :data:`BY_HAND` is none."""
        return "by hand" if program == BY_HAND else self.programs[program].name

    def with_programs(self, programs: tuple[Program, ...]) -> "Water":
        """The same with other programs keyed in."""
        return replace(self, programs=programs)

    def placed_starts(self) -> Iterator[tuple[str, Time]]:
        """The path below ``water`` and the time of each start."""
        for p, program in enumerate(self.programs):
            yield from ((f"programs[{p}].starts[{i}]", at) for i, at in enumerate(program.starts))

    def identities(self) -> Iterator[tuple[str, str | None]]:
        """The path below ``water`` and the identity of each part that may have one."""
        yield from ((f"stations[{i}]", station.id) for i, station in enumerate(self.stations))
        yield from ((f"programs[{i}]", program.id) for i, program in enumerate(self.programs))
        yield from ((f"allowed[{i}]", window.id) for i, window in enumerate(self.allowed or ()))


def _stations_accepted(count: int) -> str:
    return f"a station's number from 1 to {count}" if count else "no runs: there are no stations"
