"""What a kind of watering unit is like: its stations, what its programs hold, and the ways in which controllers differ."""

from dataclasses import dataclass, replace

from skavit.core.ground.records import Record, flag, listed, member, record, text, whole, word
from skavit.core.plan.water import BUSY, MONTHS, NO_WATER_LIMITS, PERCENT, WaterLimits, monthly

STARTS_FOR = ("program", "station")
RUNS_FOR = ("all starts", "each start")
ANCHORS = ("asked", "keyed", "reset", "watered")
PARTS = ("days", "starts", "runs", "season", "months")
MOST_STATIONS = 200


@dataclass(frozen=True, slots=True, kw_only=True)
class Curve(Record):
    """A year's percentages that a unit has built in, chosen by the region and by what waters."""

    name: str = member(text("a name", 80))
    pct: tuple[float, ...] = member(monthly(PERCENT))


@dataclass(frozen=True, slots=True, kw_only=True)
class Watering(Record):
    """The watering side of a kind."""

    stations: int = member(whole(1, MOST_STATIONS), default=1)
    limits: WaterLimits = member(record(WaterLimits), default=NO_WATER_LIMITS)
    when_busy: str = member(word(BUSY), default="queue")
    run_step_s: int = member(whole(1, 3600), default=60)
    starts_for: str = member(
        word(STARTS_FOR), default="program"
    )  # a program's stations share its starts, or each has its own
    runs_for: str = member(word(RUNS_FOR), default="all starts")  # one run time for all starts, or one for each
    default_run: bool = member(flag(), default=False)  # a run time for all stations is asked first; they differ later
    anchor: str = member(word(ANCHORS), default="asked")  # from when interval days count
    weekdays_first: bool = member(flag(), default=False)  # must be emptied before odd, even or an interval acts
    manual_while_off: bool = member(flag(), default=True)  # stations can be run by hand while watering is suspended
    master: bool = member(flag(), default=False)  # asks at set-up whether a master valve or a pump is there
    stations_each: bool = member(flag(), default=False)  # the display counts down each station; else the whole program
    season_mark: str = member(text("what the display shows", 40), default="%")  # where the season is not at 100
    off_mark: str = member(text("what the display shows", 40), default="OFF")  # where watering is suspended
    curves: tuple[Curve, ...] = member(listed(record(Curve), "curves"), default=())
    parts: tuple[str, ...] = member(listed(word(PARTS), "parts of a program", once=True), default=PARTS)

    @property
    def plan_limits(self) -> WaterLimits:
        """What a plan's programs may hold in it: where stations have starts of their own, each program has one."""
        limits = self.limits
        if self.starts_for == "station":
            limits = replace(limits, stations=1, programs=self.stations)
        return limits

    def shown(self, run_min: float, season_pct: float, month_pct: float) -> tuple[float, float]:
        """A run time by both percentages: exactly, and as it then runs in the unit's step, in minutes."""
        exact = run_min * season_pct * month_pct / 10_000
        step = self.run_step_s / 60
        return exact, int(exact / step + 0.5 + 1e-9) * step


def displays(curve: Curve, run_min: float, season_pct: float = 100.0) -> tuple[int, ...]:
    """The twelve run times that a unit with a built-in curve shows where ``run_min`` was keyed; January first."""
    return tuple(int(run_min * season_pct * pct / 10_000 + 0.5 + 1e-9) for pct in curve.pct)


def read_back(keyed_min: float, shown_min: tuple[float, ...]) -> Curve:
    """The curve that a unit has built in, from twelve displays of one run time; January first."""
    if len(shown_min) != MONTHS or keyed_min <= 0:
        raise ValueError(f"{len(shown_min)} displays of {keyed_min} min; accepted: twelve, of a run time above 0")
    return Curve(name="read off the unit", pct=tuple(round(minutes / keyed_min * 100) * 1.0 for minutes in shown_min))
