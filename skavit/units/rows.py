"""The rows of a unit's page: windows as sentences, slots of the memory, and the forms that open in them."""

import re
from dataclasses import dataclass
from typing import Any, TypeVar

import numpy as np
from django.http import Http404, QueryDict

from skavit.core.almanac import almanac
from skavit.core.findings import Finding
from skavit.core.plan import Plan
from skavit.core.purpose import Purpose, purposes
from skavit.core.wanted import window_spans
from skavit.core.window import Window
from skavit.core.wording import Words, count, dates_text, days_text
from skavit.units.forms import ChannelForm
from skavit.units.results import UnitYear
from skavit.units.sentences import EntryForm, WindowForm

Row = TypeVar("Row")
Forms = dict[str, Any]  # open forms by their place: window-1-0, window-1-new, entry-0, entry-new, import ...
_PLACE = re.compile(r"window-(?P<channel>\d+)-(?P<window>\d+|new)|entry-(?P<entry>\d+|new)")


@dataclass(frozen=True, slots=True, kw_only=True)
class Numbered:
    """A finding as it stands in the list."""

    number: int
    finding: Finding
    dates: str
    hours: str
    column: int


def numbered(found: UnitYear) -> list[Numbered]:
    """The findings with the numbers that the sheet and the list share."""
    return [
        Numbered(
            number=number,
            finding=finding,
            dates=dates_text(finding.dates),
            hours=f"{finding.hours:.0f} h" if finding.hours >= 1 else "",
            column=max(int(finding.dates[0]) - found.replay.first, 0) if finding.days else 0,
        )
        for number, finding in enumerate(found.findings, start=1)
    ]


@dataclass(frozen=True, slots=True, kw_only=True)
class EntryRow:
    """A slot of the memory."""

    place: str
    number: int
    action: str
    time: str
    days: str
    channels: str
    purpose: Purpose
    changes: str
    findings: list[Numbered]
    form: EntryForm | None  # where it is open


@dataclass(frozen=True, slots=True, kw_only=True)
class WindowRow:
    """A window as a sentence."""

    place: str
    index: int
    start: str
    end: str
    days: str
    hours: str
    form: WindowForm | None


@dataclass(frozen=True, slots=True, kw_only=True)
class ChannelRow:
    """A channel with its windows."""

    number: int
    name: str
    hours: str
    windows: list[WindowRow]
    new_place: str
    new: WindowForm | None
    rename: ChannelForm


def form_at(
    place: str, plan: Plan, revision: int, words: Words, data: QueryDict | None = None
) -> WindowForm | EntryForm:
    """The form of a place, showing what stands there or bound to what was typed; 404 for no place of the plan."""
    match = _PLACE.fullmatch(place)
    if match is None:
        raise Http404(place)
    shared = {"data": data, "place": place, "words": words, "initial": {"revision": revision}}
    row = match["entry"] or match["window"]
    index = None if row == "new" else int(row)
    if match["entry"]:
        entries = plan.unit.entries
        return EntryForm(plan=plan, index=index, shown=_at(entries, index), **shared)
    channel = int(match["channel"])
    if not 1 <= channel <= len(plan.channels):
        raise Http404(place)
    windows = plan.channels[channel - 1].windows
    return WindowForm(channel=channel, index=index, shown=_at(windows, index), **shared)


def _at(rows: tuple[Row, ...], index: int | None) -> Row | None:
    """The row of an index; None for a new one."""
    if index is None:
        return None
    if index >= len(rows):
        raise Http404(index)
    return rows[index]


def _year_hours(window: Window, plan: Plan, found: UnitYear) -> float:
    book = almanac(plan.site, found.replay.first, found.replay.last + 2)
    span = book.rows(found.replay.first, found.replay.last)
    start, end = window_spans(window, book, np.arange(span.start, span.stop), found.replay.site_clock)
    return float(np.maximum(end - start, 0).sum()) / 3600


def channel_rows(plan: Plan, found: UnitYear, revision: int, words: Words, forms: Forms) -> list[ChannelRow]:
    """The channels with their windows; a row whose form is open shows the form."""
    rows = []
    for number, channel in enumerate(plan.channels, start=1):
        windows = []
        for index, window in enumerate(channel.windows):
            place = f"window-{number}-{index}"
            windows.append(
                WindowRow(
                    place=place,
                    index=index,
                    start=words.time(window.start),
                    end=words.time(window.to) if window.to else f"{window.for_min} min later",
                    days=days_text(window.days),
                    hours=f"{_year_hours(window, plan, found):.0f} h a year",
                    form=forms.get(place),
                )
            )
        rows.append(
            ChannelRow(
                number=number,
                name=channel.name,
                hours=f"{found.replay.channels[number - 1].wanted.total_s / 3600:.0f} h a year",
                windows=windows,
                new_place=f"window-{number}-new",
                new=forms.get(f"window-{number}-new"),
                rename=forms.get(f"channel-{number}")
                or ChannelForm(initial={"revision": revision, "name": channel.name}, auto_id=f"channel-{number}-%s"),
            )
        )
    return rows


def entry_rows(plan: Plan, found: UnitYear, findings: list[Numbered], words: Words, forms: Forms) -> list[EntryRow]:
    """The slots in order, each with what it is for and what it changes."""
    rows = []
    serving = purposes(found.replay)
    several = len(plan.channels) > 1
    for index, (entry, purpose) in enumerate(zip(plan.unit.entries, serving, strict=True)):
        blamed = [n for n in findings if index + 1 in n.finding.slots and n.finding.severity != "note"]
        days = blamed[0].finding.days if blamed else purpose.switches_days
        rows.append(
            EntryRow(
                place=f"entry-{index}",
                number=index + 1,
                action=entry.action.upper(),
                time=words.time(entry.at),
                days=days_text(entry.days),
                channels=", ".join(plan.channels[n - 1].name for n in entry.channels) if several else "",
                purpose=purpose,
                changes=count(days, "day"),
                findings=blamed,
                form=forms.get(f"entry-{index}"),
            )
        )
    return rows
