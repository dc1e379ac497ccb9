"""The calculators' pages; all that is typed is in the address, so that an answer can be sent to somebody."""

from collections.abc import Callable
from dataclasses import dataclass
from http import HTTPStatus
from typing import Any

from django import forms
from django.http import Http404, HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_GET

from skavit.calculators import answers, heating, loads, watering
from skavit.calculators.forms import DriftForm, ReadingForm, SunForm, WeekdayForm, ZoneForm
from skavit.calculators.heating_forms import ModeForm, PulsesForm, ReheatForm, WarmUpForm
from skavit.calculators.loads_forms import ContactForm, TransformerForm, VoltsForm
from skavit.calculators.watering_forms import CansForm, DayEt0Form, RateForm, SoakForm
from skavit.core.ground.zones import timezones
from skavit.core.text.wording import Words
from skavit.crews.request import CrewRequest
from skavit.web.typed_fields import in_words, tell_today


@dataclass(frozen=True, slots=True, kw_only=True)
class Calculator:
    """One of them."""

    slug: str
    name: str
    says: str
    form: type[forms.Form]
    answer: Callable[[Any, Words], object]
    place: bool = False


CALCULATORS = (
    Calculator(
        slug="sun",
        name="Sun times",
        says="Dawn to dusk of a place and date.",
        form=SunForm,
        answer=answers.sun,
        place=True,
    ),
    Calculator(
        slug="zone", name="Clock changes", says="When a zone's clocks change.", form=ZoneForm, answer=answers.zone
    ),
    Calculator(
        slug="reading",
        name="Sun correction",
        says="What to key in, from the sun times that a unit shows.",
        form=ReadingForm,
        answer=answers.reading,
        place=True,
    ),
    Calculator(
        slug="weekday",
        name="Weekday and year",
        says="What a date must show, and which wrong year shows another.",
        form=WeekdayForm,
        answer=answers.weekday,
    ),
    Calculator(
        slug="drift",
        name="Drift",
        says="Seconds a day from two looks, and when it matters.",
        form=DriftForm,
        answer=answers.drifting,
    ),
    Calculator(
        slug="rate",
        name="Precipitation rate",
        says="How fast a station waters, and how long it must run.",
        form=RateForm,
        answer=watering.rate,
    ),
    Calculator(
        slug="cans",
        name="Catch cans",
        says="Rate and uniformity from cans set out under a running station.",
        form=CansForm,
        answer=watering.cans,
    ),
    Calculator(
        slug="soak",
        name="Cycle and soak",
        says="How long before it runs off, and how to split a run.",
        form=SoakForm,
        answer=watering.soak,
    ),
    Calculator(
        slug="et0",
        name="Water use of a day",
        says="Reference evapotranspiration, ET0, from the day's weather.",
        form=DayEt0Form,
        answer=watering.day_et0,
    ),
    Calculator(
        slug="mode",
        name="Mode to leave",
        says="What the output must be doing, and how to leave the unit.",
        form=ModeForm,
        answer=heating.mode,
    ),
    Calculator(
        slug="warm-up",
        name="Warm-up",
        says="How long a room takes, and when the heat must start.",
        form=WarmUpForm,
        answer=heating.warm_up,
    ),
    Calculator(
        slug="reheat",
        name="Reheat",
        says="How long a store of hot water takes.",
        form=ReheatForm,
        answer=heating.reheat,
    ),
    Calculator(
        slug="pulses",
        name="Pulse count",
        says="How many pulses a window holds.",
        form=PulsesForm,
        answer=heating.pulses,
    ),
    Calculator(
        slug="transformer",
        name="Transformer load",
        says="Lamps against a rating.",
        form=TransformerForm,
        answer=loads.transformer,
    ),
    Calculator(
        slug="volts",
        name="Voltage drop",
        says="Volts at the first and the last lamp, and what mends them.",
        form=VoltsForm,
        answer=loads.volts,
    ),
    Calculator(
        slug="contact",
        name="Contact chooser",
        says="Normally open or closed, with power lost and the timer dead.",
        form=ContactForm,
        answer=loads.contact,
    ),
)


@require_GET
def index(request: CrewRequest) -> HttpResponse:
    """The list."""
    return render(request, "calculators/index.html", {"calculators": CALCULATORS})


@require_GET
def calculator(request: CrewRequest, slug: str) -> HttpResponse:
    """One calculator, with its answer where its inputs suffice."""
    found = next((c for c in CALCULATORS if c.slug == slug), None)
    if found is None:
        raise Http404("no such calculator")
    form = found.form(request.GET or None)
    tell_today(form, request.instant.date())
    in_words(form, request.words)
    context: dict[str, Any] = {"calculator": found, "form": form, "zones": sorted(timezones())}
    if form.is_bound and form.is_valid():
        context["answer"] = found.answer(form, request.words)
    # While somebody types, half an answer is no fault: the fields say what is missing, and the page stays.
    if request.htmx:
        return render(request, "calculators/_answer.html", context)
    refused = form.is_bound and not form.is_valid()
    return render(
        request,
        "calculators/calculator.html",
        context,
        status=HTTPStatus.UNPROCESSABLE_ENTITY if refused else HTTPStatus.OK,
    )
