"""Drafts of watering programs with their places in the night."""

from dataclasses import dataclass, replace

from skavit.core.plan.water import Program, Water
from skavit.core.water.drafting import Draft
from skavit.core.water.timetable import Skip, Timetable, timetable

LETTERS = "ABCDEFGHIJKLMNOPQRSTUVWXYZ"


@dataclass(frozen=True, slots=True, kw_only=True)
class Layout:
    """Drafts of programs with their places in the night."""

    drafts: list[Draft]
    times: Timetable
    from_s: int  # seconds after midnight from which water may flow
    short_days: tuple[
        int, ...
    ] = ()  # stations that no rule waters as often as their soil asks: they may bear it just so
    left_out: tuple[int, ...] = ()  # stations for which no program is left
    by_station: bool = False  # each station has starts of its own

    @property
    def fits(self) -> bool:
        """Whether nothing is given up."""
        cut = any(d.runs_off or d.too_coarse for d in self.drafts)
        return self.times.fits and not cut and not self.short_days and not self.left_out

    @property
    def failure(self) -> tuple[int, ...]:
        """Return what is given up, worst first, to compare ways by."""
        return (
            len(self.left_out),
            len(self.short_days),
            sum(len(d.runs_off) for d in self.drafts),
            sum(self.times.after_midnight),
            max(self.times.over_s, 0),
        )

    def programs(self) -> tuple[Program, ...]:
        """Return the programs as they are keyed in: those that have a start."""
        named = zip(self.drafts, self._named(), self.times.starts, strict=False)
        return tuple(d.program(name, starts) for d, name, starts in named if starts)

    def with_months(self, months: list[tuple[float, ...]], water: Water, skip: Skip) -> "Layout":
        """Return the way with other shares of the months, and start times that keep cycles of that length apart."""
        drafts = [replace(d, months=shares) for d, shares in zip(self.drafts, months, strict=True)]
        return replace(self, drafts=drafts, times=timetable(drafts, water, self.from_s, skip))

    def _named(self) -> list[str]:
        """Letters; where each station has starts of its own, its number."""
        return [str(d.wants[0].number) for d in self.drafts] if self.by_station else _names()


def _names() -> list[str]:
    return [*LETTERS, *(f"{a}{b}" for a in LETTERS for b in LETTERS)]
