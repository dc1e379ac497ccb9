"""What switching gives the pages of units."""

import re
from dataclasses import replace
from datetime import date
from functools import partial
from typing import TYPE_CHECKING, Any

import numpy as np

from skavit.charts.year_sheet import OFF_THE_SHEET, thumbnail, year_sheet
from skavit.core.ground.budget import Budget
from skavit.core.kinds import Kind
from skavit.core.plan import edits
from skavit.core.plan.document import Plan
from skavit.core.plan.edits import Edit
from skavit.core.plan.entry import Entry
from skavit.core.simulation.alteration import alterations
from skavit.core.simulation.replay import Replay
from skavit.core.text.typed import entry_line
from skavit.core.text.wording import Words, count
from skavit.core.trades import SWITCHING
from skavit.switching import fitting
from skavit.switching.pages import found as as_found
from skavit.switching.pages.leaving import leaving_outputs
from skavit.switching.pages.unit.by_hand import ByHandForm, by_hand_rows
from skavit.switching.pages.unit.night import CursorNight, cursor_night, strip
from skavit.switching.pages.unit.page import SwitchingBody, switching_body, year_picture
from skavit.switching.pages.unit.rows import form_at, place_now
from skavit.switching.pages.unit.sentences import EntryForm, WindowForm
from skavit.units.ahead import leaving_now
from skavit.units.models import Unit
from skavit.units.pages.handover.parts import Leaving
from skavit.units.pages.live import live_at
from skavit.units.pages.numbered_findings import NumberedFinding, slot_words
from skavit.units.pages.post_data import number
from skavit.units.pages.unit.parts import ByHandRow, Strip
from skavit.units.pages.unit.trial import Trial
from skavit.units.pages.view import View
from skavit.units.trades import (
    CannotFit,
    FitOption,
    Fitted,
    FoundLine,
    FoundPicture,
    Live,
    OutputRun,
    Shows,
    UnitPages,
)
from skavit.units.years import UnitYear

if TYPE_CHECKING:
    from django.http import QueryDict

_WINDOW, _ENTRY = re.compile(r"window-(\d+)-(\d+)"), re.compile(r"entry-(\d+)")


class SwitchingPages(UnitPages):
    """Units that switch outputs by entries."""

    trade = SWITCHING
    work = "switching/_unit_work.html"
    day_part = "switching/_night.html"
    row_part = "switching/_form.html"
    unknown_label = "Not known yet"
    unknown_help = "No limits and no keys: the sheet says in words what to set."
    first_label = "Add a window"
    fit_label = "Fit the entries"
    fit_help = "makes the slots from these windows, within what the unit holds"
    options_help = (
        "What this unit's memory could hold of what is wanted, the least wrong first. "
        "Each was replayed over eleven years, which meet every weekday at every date."
    )
    fit_note = "entries fitted"
    clock_label = "Clock & sun"
    take_label = "Take the entries only"
    take_all_label = "Take it all: this is wanted"
    none_made = "Its entries make no window: no ON with an OFF."
    allows_error = True

    def rows(self, plan: Plan) -> int:
        return len(plan.channels)

    def wanted_text(self, plan: Plan) -> str:
        windows = sum(len(channel.windows) for channel in plan.channels)
        return count(windows, "window") if windows else ""

    def keyed_text(self, plan: Plan) -> str:
        entries = len(plan.unit.all_entries)
        return count(entries, "entry", "entries") if entries else ""

    def first_place(self, view: View) -> str:
        return f"window-{view.channel}-new"

    def pictures(self, shows: Shows) -> tuple[str, str]:
        return year_picture(shows, turned=False), year_picture(shows, turned=True)

    def strip(self, shows: Shows) -> Strip:
        leaving = shows.found.leaving(shows.now)
        return strip(shows.unit.plan, leaving, shows.view.channel, shows.words, shows.now)

    def day(self, found: UnitYear, view: View, words: Words, now: int) -> CursorNight:
        return cursor_night(found, view, words, now)

    def body(self, shows: Shows) -> SwitchingBody:
        return switching_body(shows)

    def form_at(
        self, place: str, plan: Plan, revision: int, words: Words, view: View, data: "QueryDict | None" = None
    ) -> WindowForm | EntryForm:
        return form_at(place, plan, revision, words, data, view.keying)

    def place_now(self, place: str, before: Plan, plan: Plan, view: View) -> str:
        return place_now(place, before, plan, view.keying)

    def edit_of(self, form: WindowForm | EntryForm, view: View) -> Edit:
        """An entry is one of the set that is shown."""
        return edits.on_set(view.keying, form.edit) if isinstance(form, EntryForm) else form.edit

    def altered(self, trial: Trial, form: Any, words: Words) -> list[str]:
        found = [altered for altered in alterations(trial.before.replay, trial.after.replay) if altered.alters]
        named = len(trial.plan.channels) > 1
        return [f"{a.name}: {a.text}" if named else a.text for a in found]

    def row_action(
        self, plan: Plan, place: str, action: str, data: "QueryDict", view: View, words: Words
    ) -> tuple[Edit, str] | None:
        if match := _WINDOW.fullmatch(place):
            channel, index = (int(part) for part in match.groups())
            window: dict[str, tuple[Edit, str]] = {
                "remove": (partial(edits.remove_window, channel=channel, index=index), "window removed"),
                "copy": (partial(edits.copy_window, channel=channel, index=index), "window copied"),
            }
            return window.get(action)
        if match := _ENTRY.fullmatch(place):
            index = int(match[1])
            to = number(data, "to") - 1
            entry: dict[str, tuple[Edit, str]] = {
                "remove": (partial(edits.remove_entry, index=index), "cleared"),
                "copy": (partial(edits.copy_entry, index=index), "copied"),
                "move": (partial(edits.move_entry, index=index, to=to), "moved"),
            }
            if action not in entry:
                return None
            change, done = entry[action]
            name = slot_words(plan, words, view.keying).slot(index + 1)
            return edits.on_set(view.keying, change), f"{name} {done}"
        return None

    def by_hand_rows(self, plan: Plan, kind: Kind | None, words: Words) -> list[ByHandRow]:
        return by_hand_rows(plan, kind, words)

    def by_hand_form(
        self, plan: Plan, view: View, words: Words, data: "QueryDict | None" = None, **more: Any
    ) -> ByHandForm:
        return ByHandForm(data, plan=plan, **more)

    def by_hand_removed(self, index: int) -> Edit:
        return partial(edits.remove_override, index=index)

    def check_fit(self, plan: Plan) -> None:
        if not self.wanted_text(plan):
            raise CannotFit("Nothing is wanted yet. Accepted: at least one window.")

    def fit_size(self, plan: Plan) -> float:
        return fitting.fit_size(plan)

    def options_size(self, plan: Plan) -> float:
        """One search finds them all."""
        return self.fit_size(plan)

    def fit(self, plan: Plan, year: int, words: Words, budget: Budget | None = None) -> Fitted:
        return fitting.fit_entries(plan, year, budget)

    def fit_options(self, plan: Plan, year: int, words: Words, budget: Budget | None = None) -> list[FitOption]:
        return fitting.fit_options(plan, year, words, budget)

    def leaving(self, unit: Unit, now: int, words: Words) -> Leaving:
        return leaving_outputs(unit, now, words)

    def live(self, unit: Unit, now: int, words: Words) -> Live:
        leaving = leaving_now(unit, now)
        wrong = next((c for c in leaving if c.actual != c.wanted), None)
        if wrong is not None:
            return Live(when="now", what="on, not wanted" if wrong.actual else "off, though wanted")
        coming = [(c.next[0].instant, c.next[0].on) for c in leaving if c.next]
        if not coming:
            return Live(when="–", what="nothing switches")
        at, on = min(coming)
        return live_at(unit, at, "on" if on else "off", words)

    def sheet_picture(self, found: UnitYear, words: Words) -> str:
        return year_sheet(found.year_of(0), marks=[], cursor=OFF_THE_SHEET, today=None, words=words)

    def outputs(self, run: Replay) -> list[OutputRun]:
        return [OutputRun(name=channel.name, spans=channel.actual) for channel in run.channels]

    def output_picture(self, found: UnitYear, output: int) -> str:
        shown = found.year_of(output)
        return thumbnail(replace(shown, wanted=shown.actual), f"year-{output}")

    def read_line(self, line: str, path: str, plan: Plan, today: date) -> Entry:
        return entry_line(line, path, len(plan.channels), plan.unit.sun)

    def found_plan(self, plan: Plan, held: list[Any]) -> Plan:
        return as_found.found_plan(plan, held)

    def taken(self, plan: Plan, found: Plan, *, windows: bool) -> Plan:
        return as_found.taken(plan, found, windows=windows)

    def found_pictures(self, run: UnitYear, listed: list[NumberedFinding], words: Words) -> list[FoundPicture]:
        return as_found.found_pictures(run, listed, words)

    def found_lines(self, plan: Plan, slots: tuple[str, ...], words: Words) -> list[FoundLine]:
        return as_found.found_lines(plan, slots, words)

    def thumbnail(self, found: UnitYear, ident: str) -> str:
        wrong = [channel.extra_h + channel.missing_h for channel in found.replay.channels]
        return thumbnail(found.year_of(int(np.argmax(wrong))), ident)


PAGES = SwitchingPages()
