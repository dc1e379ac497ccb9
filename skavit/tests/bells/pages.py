"""Bells in the application: one object."""

import re
from dataclasses import dataclass, replace
from functools import partial
from typing import Any

from django import forms
from django.http import Http404

from skavit.charts.svg import element
from skavit.core.ground.arrays import DAY_S
from skavit.core.plan.edits import GONE, EditError
from skavit.core.simulation.handover import look_ahead
from skavit.core.text.wording import count, duration_text, weekday_date
from skavit.server.now import local_digits
from skavit.tests.bells.trade import BELLS, key_rings, ring, rung, with_bells
from skavit.units.pages.handover.parts import HandoverRow, Leaving, when_text
from skavit.units.pages.live import live_at
from skavit.units.pages.unit.parts import LineForm, Strip
from skavit.units.trades import (
    CannotFit,
    FitOption,
    Fitted,
    FoundLine,
    Live,
    NotWritten,
    OutputRun,
    UnitPages,
)

_PLACE = re.compile(r"ring-(\d+|new)")


class RingForm(forms.Form):
    """One ring that is wanted."""

    revision = forms.IntegerField(widget=forms.HiddenInput)
    at = forms.CharField(max_length=5)
    seconds = forms.IntegerField(min_value=1, max_value=600)
    note = "ring changed"
    overtaken = False

    def __init__(self, *args, place, **kwargs):
        super().__init__(*args, **kwargs)
        self.place = place

    def edit(self, plan):
        bells, number = plan.part("bells"), self.place.removeprefix("ring-")
        made, rows = ring(self.cleaned_data["at"], self.cleaned_data["seconds"]), bells.wanted
        rows = (*rows, made) if number == "new" else tuple(made if n == int(number) else r for n, r in enumerate(rows))
        return with_bells(plan, replace(bells, wanted=rows))


class RungForm(LineForm):
    """Nothing can be done to a bell by hand but rung."""

    def edit(self, plan):
        return plan


@dataclass(frozen=True, slots=True, kw_only=True)
class BellsBody:
    """The rings of both columns."""

    wanted_rings: list[tuple[str, str]]
    keyed_rings: list[str]
    ring_new: Any


@dataclass(frozen=True, slots=True, kw_only=True)
class BellsDay:
    """The rings of a day."""

    title: str
    rings: list[str]


def without_ring(plan, index):
    bells = plan.part("bells")
    if index >= len(bells.wanted):
        raise EditError(GONE)
    return with_bells(plan, replace(bells, wanted=bells.wanted[:index] + bells.wanted[index + 1 :]))


class BellsPages(UnitPages):
    trade = BELLS
    work = "bells/_unit_work.html"
    day_part = "bells/_day.html"
    row_part = "bells/_form.html"
    unknown_label = "It rings bells, kind not known"
    unknown_help = "Rings without limits."
    first_label = "Add a ring"
    fit_label = "Key the rings"
    fit_help = "as they are wanted"
    fit_note = "rings keyed"

    def rows(self, plan):
        return 1

    def wanted_text(self, plan):
        wanted = len(plan.part("bells").wanted)
        return count(wanted, "ring") if wanted else ""

    def keyed_text(self, plan):
        keyed = len(plan.part("bells").keyed)
        return count(keyed, "ring") if keyed else ""

    def first_place(self, view):
        return "ring-new"

    def _next(self, run, plan, now):
        on = rung(run, plan.part("bells").keyed).on
        later = on[on > now]
        return int(later[0]) if later.size else None

    def pictures(self, shows):
        rings = shows.unit.plan.part("bells").wanted
        drawn = "".join(element("rect", x=r.at_min, y=0, width=2, height=9) for r in rings)
        return (element("svg", drawn, viewBox="0 0 1440 9"),) * 2

    def strip(self, shows):
        plan, now, words = shows.unit.plan, shows.now, shows.words
        at = self._next(look_ahead(plan, now), plan, now)
        shown = Strip(tone="off", state="Silent", since="", now=words.minute(local_digits(plan, now) % DAY_S))
        if at is None:
            return shown
        time = words.minute(local_digits(plan, at) % DAY_S)
        return replace(shown, next_time=time, next_action="rings", next_in=f"in {duration_text(at - now)}")

    def day(self, found, view, words, now):
        rings = [f"{ring.time}, {ring.for_s} s" for ring in found.replay.plan.part("bells").keyed]
        return BellsDay(title=weekday_date(view.day), rings=rings)

    def body(self, shows):
        bells = shows.unit.plan.part("bells")
        return BellsBody(
            wanted_rings=[(f"ring-{n}", f"{r.time} for {r.for_s} s") for n, r in enumerate(bells.wanted)],
            keyed_rings=[f"{r.time} for {r.for_s} s" for r in bells.keyed],
            ring_new=shows.forms.get("ring-new"),
        )

    def form_at(self, place, plan, revision, words, view, data=None):
        match = _PLACE.fullmatch(place)
        wanted = plan.part("bells").wanted
        if match is None or (match[1] != "new" and int(match[1]) >= len(wanted)):
            raise Http404(place)
        initial = {"revision": revision}
        if match[1] != "new":
            initial |= {"at": wanted[int(match[1])].time, "seconds": wanted[int(match[1])].for_s}
        return RingForm(data, place=place, initial=initial)

    def altered(self, trial, form, words):
        before, after = (len(year.replay.plan.part("bells").wanted) for year in (trial.before, trial.after))
        return [f"{count(after, 'ring')} a day, {before} before."] if before != after else []

    def row_action(self, plan, place, action, data, view, words):
        match = _PLACE.fullmatch(place)
        if match is None or match[1] == "new" or action != "remove":
            return None
        return partial(without_ring, index=int(match[1])), "ring removed"

    def by_hand_rows(self, plan, kind, words):
        return []

    def by_hand_form(self, plan, view, words, data=None, **more):
        return RungForm(data, **more)

    def by_hand_removed(self, index):
        return lambda plan: plan

    def check_fit(self, plan):
        if not plan.part("bells").wanted:
            raise CannotFit("No ring is wanted yet. Accepted: at least one.")

    def fit_size(self, plan):
        return 0.1

    def fit(self, plan, year, words, budget=None):
        made = key_rings(plan)
        return Fitted(plan=made, lines=[f"{self.keyed_text(made)} keyed."], exact=True)

    def fit_options(self, plan, year, words, budget=None):
        made = key_rings(plan)
        rings = [f"{r.time} for {r.for_s} s" for r in made.part("bells").keyed]
        return [FitOption(name="As wanted", when="", plan=made, lines=rings, losses=[])]

    def leaving(self, unit, now, words):
        plan = unit.plan
        at = self._next(look_ahead(plan, now), plan, now)
        coming = [] if at is None else [(when_text(plan, at, words), "rings", "")]
        row = HandoverRow(
            name="Bell", state="Silent", leave="automatic", back="", differs="", next=coming, prospects=[]
        )
        return Leaving(rows=[row], test=("Ring it by hand.",), warnings=("It is loud beside the ear.",))

    def live(self, unit, now, words):
        at = self._next(look_ahead(unit.plan, now), unit.plan, now)
        return Live(when="–", what="nothing rings") if at is None else live_at(unit, at, "rings", words)

    def sheet_picture(self, found, words):
        return ""

    def thumbnail(self, found, ident):
        return element("svg", "", id=ident)

    def outputs(self, run):
        return [OutputRun(name="Bell", spans=rung(run, run.plan.part("bells").keyed))]

    def check_written(self):
        raise NotWritten("Type its rings in.")

    def read_line(self, line, path, plan, today):
        self.check_written()

    def found_plan(self, plan, held):
        return plan

    def taken(self, plan, found, *, windows):
        return found

    def found_pictures(self, run, listed, words):
        return []

    def found_lines(self, plan, slots, words):
        return [FoundLine(slot="1", action="", text="")]


PAGES = BellsPages()
