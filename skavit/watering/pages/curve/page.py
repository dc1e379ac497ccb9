"""A year that a controller has built in: the twelve displays to expect, the same read back, and the need beside it."""

from dataclasses import dataclass
from typing import Any

import numpy as np
from django import forms

from skavit.core.kinds.watering import Watering, displays, read_back
from skavit.core.plan.water import MONTHS
from skavit.core.text.wording import MONTHS as MONTH_NAMES
from skavit.core.text.wording import capital
from skavit.core.water.need import net_need_mm_day
from skavit.units.models import Unit

NUMBERS_FORM = "twelve minutes as the display had them, January first, such as 20 18 14 9 4 1 1 4 9 13 17 19"


class CurveForm(forms.Form):
    """Which curve, what was keyed, and what the display showed."""

    curve = forms.ChoiceField(label="Its built-in year", required=False)
    minutes = forms.FloatField(label="Run time keyed, minutes", min_value=1, max_value=600, required=False)
    budget = forms.FloatField(label="Season, %", min_value=1, max_value=300, required=False)
    shown = forms.CharField(
        label="Twelve displays", max_length=200, required=False, help_text=f"{capital(NUMBERS_FORM)}."
    )

    def __init__(self, *args: Any, has: Watering, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        curve = self.fields["curve"]
        curve.choices = [(n, c.name) for n, c in enumerate(has.curves)]  # type: ignore[attr-defined]

    def clean_shown(self) -> tuple[float, ...]:
        """Twelve numbers, or none."""
        words = self.cleaned_data["shown"].replace(",", " ").split()
        if not words:
            return ()
        try:
            found = tuple(float(word) for word in words)
        except ValueError as error:
            raise forms.ValidationError(f"Accepted: {NUMBERS_FORM}.") from error
        if len(found) != MONTHS or any(not 0 <= each <= 2000 for each in found):
            raise forms.ValidationError(f"{len(found)} numbers. Accepted: {NUMBERS_FORM}.")
        return found


@dataclass(frozen=True, slots=True, kw_only=True)
class MonthRow:
    """One month."""

    name: str
    pct: int  # of the curve
    display: int  # minutes
    need: int | None  # of the neediest month, per cent; None where it is not known
    short: bool  # the curve gives less than is needed


@dataclass(frozen=True, slots=True, kw_only=True)
class CurvePage:
    """A curve, its displays, and the need."""

    name: str
    minutes: float
    budget: float
    rows: list[MonthRow]
    read_off: bool  # from the display, not from the kind


def curve_page(unit: Unit, has: Watering, form: CurveForm) -> CurvePage:
    """What a curve makes of a run time, beside what the neediest station needs."""
    data = form.cleaned_data if form.is_bound and form.is_valid() else {}
    minutes, budget = data.get("minutes") or 20.0, data.get("budget") or 100.0
    shown: tuple[float, ...] = data.get("shown") or ()
    curve = has.curves[int(data.get("curve") or 0)]
    if shown:
        curve = read_back(minutes * budget / 100, shown)
    needs = _needs(unit)
    rows = [
        MonthRow(
            name=name,
            pct=round(curve.pct[month]),
            display=display,
            need=None if needs is None else needs[month],
            short=needs is not None and curve.pct[month] * budget / 100 < needs[month] - 5,
        )
        for month, (name, display) in enumerate(zip(MONTH_NAMES, displays(curve, minutes, budget), strict=True))
    ]
    return CurvePage(name=curve.name, minutes=minutes, budget=budget, rows=rows, read_off=bool(shown))


def _needs(unit: Unit) -> list[int] | None:
    """The need of each month beside the greatest, per cent, of the neediest station; None where it is not known."""
    water = unit.plan.water
    assert water is not None
    if water.climate is None or not water.stations:
        return None
    known = [net_need_mm_day(s, water.climate) for s in water.stations if s.crop is not None]
    peaks = [need / need.max() for need in known if need.max() > 0]
    return None if not peaks else [round(100 * share) for share in np.max(peaks, axis=0).tolist()]
