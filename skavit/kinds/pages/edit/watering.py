"""The watering side of a kind, adjusted to the manual in hand."""

from collections.abc import Iterator
from typing import Any

from django import forms

from skavit.core.ground.errors import PlanError
from skavit.core.kinds import Kind
from skavit.core.kinds.watering import PARTS, Watering
from skavit.core.plan.water import DAY_RULES
from skavit.kinds.pages.edit.document import DocumentForm, Group
from skavit.kinds.words import ANCHOR_TEXT, BUSY_TEXT, DAY_RULE_TEXT

PART_TEXT = {"days": "days", "starts": "starts", "runs": "run times", "season": "season", "months": "months"}
LIMITS = (
    "programs", "starts", "run_max_min", "run_step_min", "interval_max_days", "adjust_max_pct", "adjust_step_pct",
    "monthly_step_pct",
)  # fmt: skip
PLAIN = ("stations", "when_busy", "run_step_s", "starts_for", "runs_for", "anchor", "season_mark", "off_mark")
FLAGS = ("default_run", "weekdays_first", "manual_while_off", "master", "stations_each")
CURVE_FORM = "a name, a semicolon, twelve percentages from January on"


def _number(label: str, high: int) -> forms.IntegerField:
    return forms.IntegerField(label=label, required=False, min_value=1, max_value=high)


class WateringForm(DocumentForm):
    """What a controller's programs hold, and how it differs from others."""

    stations = forms.IntegerField(label="Stations", min_value=1, max_value=200)
    programs = _number("Programs", 100)
    starts = _number("Starts of each", 100)
    run_max_min = _number("Longest run, minutes", 10_080)
    run_step_min = forms.FloatField(label="Steps of a run, minutes", required=False, min_value=0.1, max_value=600)
    run_step_s = forms.IntegerField(label="Runs are rounded to, seconds", min_value=1, max_value=3600)
    days = forms.MultipleChoiceField(
        label="Days by",
        choices=[(rule, DAY_RULE_TEXT[rule]) for rule in DAY_RULES],
        widget=forms.CheckboxSelectMultiple,
    )
    interval_max_days = _number("Longest interval, days", 366)
    anchor = forms.ChoiceField(label="Interval days count", choices=list(ANCHOR_TEXT.items()))
    weekdays_first = forms.BooleanField(
        required=False, label="Weekdays must be taken out before dates or an interval act"
    )
    adjust_max_pct = _number("Largest season, %", 1000)
    adjust_step_pct = _number("Steps of the season, %", 100)
    monthly = forms.BooleanField(required=False, label="It has a percentage for each month")
    monthly_step_pct = _number("Steps of a month, %", 100)
    when_busy = forms.ChoiceField(label="A start that comes while it runs", choices=list(BUSY_TEXT.items()))
    starts_for = forms.ChoiceField(
        label="Starts are",
        choices=[("program", "a program's, for all its stations"), ("station", "each station's own")],
    )
    runs_for = forms.ChoiceField(
        label="Run times are", choices=[("all starts", "one for all starts"), ("each start", "one for each start")]
    )
    default_run = forms.BooleanField(required=False, label="It asks for one run time for all stations first")
    manual_while_off = forms.BooleanField(required=False, label="Stations run by hand while watering is suspended")
    master = forms.BooleanField(required=False, label="It asks for a master valve or a pump")
    stations_each = forms.BooleanField(required=False, label="It counts down each station, not the whole program")
    season_mark = forms.CharField(label="Where the season is not at 100 it shows", max_length=40, required=False)
    off_mark = forms.CharField(label="While suspended it shows", max_length=40, required=False)
    curves = forms.CharField(
        widget=forms.Textarea(attrs={"rows": 4}), required=False, label="Years built in, a line each",
        help_text=f"Such as: dry coast, sprays; 100 90 70 45 20 5 5 20 45 65 85 95. Accepted: {CURVE_FORM}.",
    )  # fmt: skip
    parts = forms.CharField(label="Order of a program's parts", help_text=f"Such as: {', '.join(PART_TEXT.values())}.")

    @staticmethod
    def shown(kind: Kind) -> dict[str, Any]:
        """What the form shows of a kind."""
        has = kind.watering or Watering()
        found: dict[str, Any] = {name: getattr(has, name) for name in (*PLAIN, *FLAGS)}
        found |= {name: getattr(has.limits, name) for name in (*LIMITS, "monthly")}
        curves = (f"{curve.name}; {' '.join(f'{pct:g}' for pct in curve.pct)}" for curve in has.curves)
        return found | {
            "days": list(has.limits.days or DAY_RULES), "curves": "\n".join(curves),
            "parts": ", ".join(PART_TEXT[part] for part in has.parts),
        }  # fmt: skip

    def document(self, data: dict[str, Any]) -> dict[str, Any]:
        """The kind's document with what was typed."""
        limits = {name: data[name] for name in LIMITS if data.get(name) is not None}
        before = self.kind.watering.limits if self.kind.watering else None
        stations = {"stations": before.stations} if before and before.stations is not None else {}
        found = {name: data[name] for name in (*PLAIN, *FLAGS) if data.get(name) not in (None, "")}
        found["limits"] = {**limits, **stations, "days": list(data["days"]), "monthly": data["monthly"]}
        found["curves"] = [
            _curve(line, place) for place, line in enumerate(data["curves"].splitlines()) if line.strip()
        ]
        found["parts"] = _parts(data["parts"])
        return self.kind.to_json() | {"watering": found}

    def groups(self) -> Iterator[Group]:
        """The fields by what they are about."""
        yield self.group("What it holds", "stations", "programs", "starts", "starts_for", "runs_for", "run_max_min",
                         "run_step_min", "run_step_s", "when_busy")  # fmt: skip
        yield self.group("Days", "days", "interval_max_days", "anchor", "weekdays_first")
        yield self.group("Season and months", "adjust_max_pct", "adjust_step_pct", "season_mark", "monthly",
                         "monthly_step_pct", "curves")  # fmt: skip
        yield self.group(
            "Setting it up", "default_run", "master", "stations_each", "manual_while_off", "off_mark", "parts"
        )


def _curve(line: str, place: int) -> dict[str, Any]:
    name, _, rest = line.partition(";")
    try:
        return {"name": name.strip(), "pct": [float(word) for word in rest.replace(",", " ").split()]}
    except ValueError as error:
        raise PlanError(f"curves[{place}]", f"{rest.strip()!r} is not twelve numbers", CURVE_FORM) from error


def _parts(text: str) -> list[str]:
    """The parts in order; what is not named comes last."""
    by_text = {word: part for part, word in PART_TEXT.items()}
    named = [by_text.get(word.strip().lower(), word.strip()) for word in text.split(",") if word.strip()]
    return named + [part for part in PARTS if part not in named]
