"""What the pages of units ask the trade of a unit. Nobody else asks which trade it is.

Each trade gives one object, named in the settings; :func:`pages_of` finds that of a plan.
"""

from abc import ABC, abstractmethod
from dataclasses import dataclass
from datetime import date
from functools import cache
from typing import TYPE_CHECKING, Any, ClassVar

from django.conf import settings
from django.utils.module_loading import import_string

from skavit.core.ground.budget import Budget
from skavit.core.ground.errors import UserError
from skavit.core.ground.spans import Spans
from skavit.core.plan.document import Plan
from skavit.core.plan.edits import Edit
from skavit.core.plan.trade import Trade
from skavit.core.simulation.replay import Replay
from skavit.core.text.wording import Words

if TYPE_CHECKING:
    from collections.abc import Mapping

    from _typeshed import DataclassInstance
    from django.forms import Field

    from skavit.core.heat.targets import Targets
    from skavit.core.kinds import Kind
    from skavit.units.models import Unit
    from skavit.units.pages.handover.parts import Leaving
    from skavit.units.pages.numbered_findings import NumberedFinding
    from skavit.units.pages.unit.parts import ByHandRow, Forms, LineForm, Strip
    from skavit.units.pages.unit.trial import Trial
    from skavit.units.pages.view import View
    from skavit.units.years import UnitYear


OPTIONS = 4  # that are offered at most where each is a fit of its own


class CannotFit(UserError):
    """Nothing can be fitted yet; the text says what is missing."""


class TooLong(Exception):
    """A search takes longer than a page may wait; it is work for the background."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Fitted:
    """A plan with what was fitted keyed in, and what is said of it, a line each."""

    plan: Plan
    lines: list[str]
    exact: bool  # the unit does just what is wanted


@dataclass(frozen=True, slots=True, kw_only=True)
class FitOption:
    """One of several ways to fit: what it keys, and what it loses."""

    name: str
    when: str  # somebody would choose it
    plan: Plan
    lines: list[str]  # what is keyed
    losses: list[str]  # what it costs and loses


class NotWritten(UserError):
    """What a unit holds is not written down line by line; the text says what to do instead."""


@dataclass(frozen=True, slots=True, kw_only=True)
class OutputRun:
    """What one output, station or zone does in a run: when it is on, or what it is held at."""

    name: str
    spans: Spans | None = None
    held: "Targets | None" = None
    waters: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class FoundPicture:
    """What an output of a unit as found does: in words, and its year."""

    name: str
    summary: list[str]
    sheets: tuple[str, str]  # lying, and turned for the phone


@dataclass(frozen=True, slots=True, kw_only=True)
class FoundLine:
    """One thing that a unit as found held, by the slot that was typed before it."""

    slot: str
    action: str
    text: str
    channels: tuple[int, ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class Live:
    """What a unit does at this minute, and when it next switches."""

    when: str
    what: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Shows:
    """The page of a unit as far as its trade does not decide it."""

    unit: "Unit"
    found: "UnitYear"
    view: "View"
    words: Words
    now: int
    listed: list["NumberedFinding"]
    forms: "Forms"


class UnitPages(ABC):
    """What a trade gives the pages of its units."""

    trade: ClassVar[Trade]
    # Templates: the work region of the page, the cursor's day in it, and the form of a row.
    work: ClassVar[str]
    day_part: ClassVar[str]
    row_part: ClassVar[str]
    # A unit of this trade whose kind nobody knows, as it is offered for a new unit.
    unknown_label: ClassVar[str]
    unknown_help: ClassVar[str]
    first_label: ClassVar[str]  # the button to the first question of an empty unit
    # The button that fits, what is said beside it and over other ways to fit, and what it is called in the history.
    fit_label: ClassVar[str]
    fit_help: ClassVar[str]
    options_help: ClassVar[str] = ""
    fit_note: ClassVar[str]
    clock_label: ClassVar[str] = "Clock"  # the step of the way on which its clock is looked at
    hazards: ClassVar[frozenset[str]] = frozenset()  # loads that stand for what its work can do to people
    # How what a unit holds is typed in as found, and the buttons that take it; the second takes what is wanted too.
    lines_label: ClassVar[str] = ""
    lines_help: ClassVar[str] = ""
    take_label: ClassVar[str] = "Take it"
    take_all_label: ClassVar[str] = ""
    none_made: ClassVar[str] = ""  # said of an output whose entries make nothing
    allows_error: ClassVar[bool] = False  # its findings can be judged with a clock and a sun that are some minutes out

    # What is wanted and keyed

    @abstractmethod
    def rows(self, plan: Plan) -> int:
        """How many outputs, stations or zones there are to look at."""

    @abstractmethod
    def wanted_text(self, plan: Plan) -> str:
        """How much is wanted; empty where nothing is."""

    @abstractmethod
    def keyed_text(self, plan: Plan) -> str:
        """How much is keyed; empty where nothing is."""

    @abstractmethod
    def first_place(self, view: "View") -> str:
        """The place of the first question of an empty unit, which is open."""

    def can_fit(self, found: "UnitYear") -> bool:
        """Whether enough is known for a fit to be offered."""
        return True

    # The page

    @abstractmethod
    def pictures(self, shows: Shows) -> tuple[str, str]:
        """The year as SVG, lying and turned for a phone."""

    @abstractmethod
    def strip(self, shows: Shows) -> "Strip":
        """What the unit does at this minute, and when that changes."""

    @abstractmethod
    def day(self, found: "UnitYear", view: "View", words: Words, now: int) -> "DataclassInstance":
        """The day or night that the cursor is on."""

    @abstractmethod
    def body(self, shows: Shows) -> "DataclassInstance":
        """The two columns, what is wanted and what is keyed, and whatever else the page of this trade shows."""

    # Rows and their forms

    @abstractmethod
    def form_at(self, place: str, plan: Plan, revision: int, words: Words, view: "View", data: Any = None) -> Any:
        """The form of a row's place, empty or with what was typed; 404 for no such place."""

    def place_now(self, place: str, before: Plan, plan: Plan, view: "View") -> str:
        """The place at which a row of an older plan is now."""
        return place

    def edit_of(self, form: Any, view: "View") -> Edit:
        """What a valid form of a row edits."""
        edit: Edit = form.edit
        return edit

    @abstractmethod
    def altered(self, trial: "Trial", form: Any, words: Words) -> list[str]:
        """What a valid form would alter in the year of a trial, a line each; none where nothing."""

    @abstractmethod
    def row_action(
        self, plan: Plan, place: str, action: str, data: Any, view: "View", words: Words
    ) -> tuple[Edit, str] | None:
        """The edit that removes, copies or moves the row of a place, and what it is called; None for no such row."""

    # A visit

    def visit_fields(self) -> "Mapping[str, Mapping[str, Field]]":
        """Fields that a visit asks of this trade beside those of all, by section (``found``, ``done``, ``left``)."""
        return {}

    # Done by hand

    @abstractmethod
    def by_hand_rows(self, plan: Plan, kind: "Kind | None", words: Words) -> list["ByHandRow"]:
        """What was done by hand, the latest first."""

    @abstractmethod
    def by_hand_form(self, plan: Plan, view: "View", words: Words, data: Any = None, **more: Any) -> "LineForm":
        """The form of another line."""

    @abstractmethod
    def by_hand_removed(self, index: int) -> Edit:
        """The edit that takes a line out (from 0)."""

    # Fitting

    @abstractmethod
    def check_fit(self, plan: Plan) -> None:
        """Raise :class:`CannotFit` where there is nothing to fit yet."""

    @abstractmethod
    def fit_size(self, plan: Plan) -> float:
        """How large a fit is, in parts of what a page may wait for."""

    def options_size(self, plan: Plan) -> float:
        """The same of several ways to fit, which are a fit each."""
        return OPTIONS * self.fit_size(plan)

    @abstractmethod
    def fit(self, plan: Plan, year: int, words: Words, budget: Budget | None = None) -> Fitted:
        """Fit what is wanted into the unit. Raises :class:`TooLong` where a ``budget`` is given and does not do."""

    @abstractmethod
    def fit_options(self, plan: Plan, year: int, words: Words, budget: Budget | None = None) -> list[FitOption]:
        """Several ways to fit, the usual one first; two that key the same are one. Raises :class:`TooLong`."""

    # Leaving, lists and paper

    @abstractmethod
    def leaving(self, unit: "Unit", now: int, words: Words) -> "Leaving":
        """What the unit must be doing at an instant, what comes next, what to test and to look out for."""

    @abstractmethod
    def live(self, unit: "Unit", now: int, words: Words) -> "Live":
        """What the unit does at this minute and when that changes, for a list: no year is worked out."""

    @abstractmethod
    def sheet_picture(self, found: "UnitYear", words: Words) -> str:
        """The year at a glance as SVG, for paper; empty where nothing can be drawn."""

    @abstractmethod
    def thumbnail(self, found: "UnitYear", ident: str) -> str:
        """The output, station or zone that stands for the unit as a small picture; empty where nothing can be drawn."""

    @abstractmethod
    def outputs(self, run: Replay) -> list["OutputRun"]:
        """What each output, station or zone does in a run, for whoever owns the place."""

    def output_picture(self, found: "UnitYear", output: int) -> str:
        """The year of one output (from 0) without what is wanted; empty where the trade has no such picture."""
        return ""

    # Written down as found

    def check_written(self) -> None:  # noqa: B027  most are
        """Raise :class:`NotWritten` where what such a unit holds is not written down line by line."""

    @abstractmethod
    def read_line(self, line: str, path: str, plan: Plan, today: date) -> Any:
        """What one line says that the unit holds. Raises PlanError."""

    @abstractmethod
    def found_plan(self, plan: Plan, held: list[Any]) -> Plan:
        """The plan of a unit that was found with these, as JSON."""

    @abstractmethod
    def taken(self, plan: Plan, found: Plan, *, windows: bool) -> Plan:
        """The plan with what was found; ``windows``: what that makes becomes what is wanted too."""

    @abstractmethod
    def found_pictures(self, run: "UnitYear", listed: list["NumberedFinding"], words: Words) -> list["FoundPicture"]:
        """What each output or station did all year."""

    @abstractmethod
    def found_lines(self, plan: Plan, slots: tuple[str, ...], words: Words) -> list["FoundLine"]:
        """What it held, a line each; ``slots`` are their names where some were typed."""


@cache
def all_pages() -> dict[str, UnitPages]:
    """The pages of each trade, by its name."""
    listed: list[UnitPages] = [import_string(path) for path in settings.TRADES]
    return {pages.trade.slug: pages for pages in listed}


def pages_of(plan: Plan) -> UnitPages:
    """The pages of the trade of a plan."""
    return all_pages()[plan.trade.slug]
