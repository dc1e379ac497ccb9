"""The axes of the year sheet: hours from noon to noon, months, clock changes and keyings."""

from typing import Protocol

from skavit.charts.svg import element, text
from skavit.charts.year import HOURS, Frame, Year
from skavit.core.ground.arrays import DAY_S
from skavit.core.plan.times import day_number, day_of
from skavit.core.site.clock import WallClock
from skavit.core.site.clock_check import clock_changes as changes_of
from skavit.core.text.wording import MONTHS, Words, date_text

HOUR_MARKS = (0, 3, 6, 9, 12, 15, 18, 21, 24)


def hour_text(hour: int, words: Words) -> str:
    """A mark of the hour axis, hours after noon."""
    if hour % 24 == 0:
        return "noon"
    clock = (12 + hour) % 24
    if words.twelve_hour:
        return f"{(clock - 1) % 12 + 1} {'am' if clock < 12 else 'pm'}"
    return f"{clock:02d}:00"


def month_starts(first: int) -> list[int]:
    """The first of each month of the year that begins on the day number ``first``, in days from it."""
    start = day_of(first)
    return [day_number(start.replace(month=month)) - first for month in range(1, 13)]


def month_ticks(first: int, left: float, per_day: float, top: float, every: int = 1) -> str:
    """The months of the year that begins on the day number ``first``, below a plot that ends at ``top``."""
    parts = []
    for month, column in list(enumerate(month_starts(first)))[::every]:
        x = left + column * per_day
        parts.append(element("line", x1=x, x2=x, y1=top + 22, y2=top + 34, class_="tick"))
        parts.append(text(MONTHS[month], x + 6, top + 33, "axis"))
    return "".join(parts)


class Dated(Protocol):
    """A year of columns, with the clock of its site."""

    @property
    def first(self) -> int:
        """1 January as a day number."""
        ...

    @property
    def count(self) -> int:
        """365 or 366."""
        ...

    @property
    def clock(self) -> WallClock:
        """The site's clock."""
        ...


def clock_changes(year: Dated) -> list[tuple[int, str]]:
    """(column, words) of the legal clock changes of the year."""
    found = []
    for change in changes_of(year.clock, int(year.clock.starts[0]), int(year.clock.starts[-1])):
        day = (change.digits + change.by_s) // DAY_S
        if year.first <= day < year.first + year.count:
            found.append((day - year.first, f"clocks {'on' if change.by_s > 0 else 'back'} {date_text(day)}"))
    return found


def axes(year: Dated, frame: Frame, words: Words, *, begins: int = 0) -> str:
    """Hours at the side, months below, clock changes above the upright sheet, whose days begin so many hours after noon."""
    long = HOURS * frame.per_hour
    parts = []
    for hour in HOUR_MARKS:
        y = frame.top + hour * frame.per_hour
        parts.append(text(hour_text(hour + begins, words), frame.left - 10, y + 4.5, "axis", "end"))
        parts.append(element("line", x1=frame.left - 6, x2=frame.left, y1=y, y2=y, class_="tick"))
    for hour in (12,) if begins else (12, 15):
        y = frame.top + hour * frame.per_hour
        right = frame.left + year.count * frame.per_day
        parts.append(element("line", x1=frame.left, x2=right, y1=y, y2=y, class_="midnight"))
    parts.append(month_ticks(year.first, frame.left, frame.per_day, frame.top + long))
    for column, words_of in clock_changes(year):
        x = frame.left + column * frame.per_day
        parts.append(element("line", x1=x, x2=x, y1=frame.top - 6, y2=frame.top, class_="tick"))
        far = column > year.count - 60
        parts.append(text(words_of, x - 5 if far else x + 5, frame.top - 7, "axis", "end" if far else None))
    return "".join(parts)


def keyed_anew(year: Year, frame: Frame) -> str:
    """A line on each date from which another set of entries is in the unit, with the date."""
    parts = []
    for column in year.keyed_anew:
        a, b = frame.place(column, 0), frame.place(column, HOURS)
        parts.append(element("line", x1=a[0], y1=a[1], x2=b[0], y2=b[1], class_="keyed-anew"))
        if not frame.turned:
            parts.append(
                text(f"keyed anew {date_text(year.first + column)}", a[0] + 5, b[1] - 6, "axis keyed-anew-text")
            )
    return "".join(parts)


def by_hand(year: Year, frame: Frame) -> str:
    """A small wedge at the edge of each date on which something was done by hand."""
    parts = []
    for column in year.by_hand:
        x, y = frame.place(column + 0.5, 0)
        shape = f"M{x:.1f} {y - 6:.1f}h-9l9 6l9 -6Z" if not frame.turned else f"M{x - 6:.1f} {y:.1f}v-9l6 9l-6 9Z"
        parts.append(
            element(
                "path", element("title", f"by hand, {date_text(year.first + column)}"), d=shape, class_="by-hand-mark"
            )
        )
    return "".join(parts)


def turned_axes(year: Dated, frame: Frame, words: Words, *, begins: int = 0) -> str:
    """Hours above and months at the side of the turned sheet, whose days begin so many hours after noon."""
    parts = []
    for hour in (0, 6, 12, 18, 24) if words.twelve_hour else (0, 6, 9, 12, 15, 18, 24):
        x = frame.left + hour * frame.per_hour
        label = hour_text(hour + begins, words)
        anchor = "start" if hour == 0 else "end" if hour == HOURS else "middle"
        shown = label[:2] if label[:2].isdigit() and hour not in (0, HOURS) and not words.twelve_hour else label
        parts.append(text(shown, x, frame.top - 8, "axis", anchor))
        parts.append(element("line", x1=x, x2=x, y1=frame.top - 5, y2=frame.top, class_="tick"))
    x = frame.left + 12 * frame.per_hour
    bottom = frame.top + year.count * frame.per_day
    parts.append(element("line", x1=x, x2=x, y1=frame.top, y2=bottom, class_="midnight"))
    for month, column in enumerate(month_starts(year.first)):
        y = frame.top + column * frame.per_day
        parts.append(element("line", x1=frame.left - 44, x2=frame.left - 6, y1=y, y2=y, class_="tick"))
        parts.append(text(MONTHS[month], frame.left - 44, y + 18, "axis"))
    return "".join(parts)
