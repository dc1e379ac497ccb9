"""What the calculators of loads answer."""

from dataclasses import dataclass

from skavit.calculators.loads_forms import ContactForm, TransformerForm, VoltsForm
from skavit.charts.cable_run import cable_run
from skavit.charts.wiring import Wiring, wiring
from skavit.core.ground.errors import UserError
from skavit.core.load import LOCKS, LOGIC, USUAL_SHARE, Logic, load_remedies
from skavit.core.load import volts as volts_at
from skavit.core.plan.load import MAX_VOLTS, Lamp, LampRun, Length, Load
from skavit.core.text.error_text import error_text
from skavit.core.text.wording import Words, capital

# Ratings that transformers for garden and path lamps usually have: common practice, no source.
USUAL_VA = (20, 40, 60, 75, 100, 150, 200, 300, 600, 900, 1200)


@dataclass(frozen=True, slots=True, kw_only=True)
class TransformerAnswer:
    """What lamps come to."""

    va: str
    lamps: int
    share: str  # of the rating; empty where it is not known
    verdict: str
    right: bool
    least: str  # the usual rating that leaves a fifth


def transformer(form: TransformerForm, words: Words) -> TransformerAnswer:
    """The sum of lamps against a rating, and the rating that suffices."""
    data = form.cleaned_data
    va = sum(count * each for count, each in data["lamps"])
    rating = data["rating"]
    least = next((usual for usual in USUAL_VA if va <= USUAL_SHARE * usual), None)
    share = va / rating if rating else 0.0
    verdict = (
        "more than it is good for"
        if share > 1
        else "more than four fifths"
        if share > USUAL_SHARE
        else "a fifth is left"
    )
    return TransformerAnswer(
        va=f"{va:g} VA",
        lamps=sum(count for count, _ in data["lamps"]),
        share=f"{share:.0%}" if rating else "",
        verdict=verdict if rating else "",
        right=share <= USUAL_SHARE,
        least=f"{least} VA" if least else "several transformers",
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class VoltsAnswer:
    """A run's volts, and what mends it."""

    first: str
    last: str
    drop: str
    amperes: str
    pictures: list[str]
    remedies: list[str]
    refused: str


def run_of(form: VoltsForm) -> LampRun:
    """The run that a form describes."""
    data = form.cleaned_data
    count, between = data["count"], data["between"] or data["first"]
    lamps = [Lamp(va=data["va"])] * count
    if data["layout"] == "hub":  # the point is a joint after the lamps
        lamps.append(Lamp(va=0.0))
        lengths = [
            Length(a=0, b=count + 1, m=data["first"]),
            *(Length(a=count + 1, b=n, m=between) for n in range(1, count + 1)),
        ]
    else:
        lengths = [Length(a=n, b=n + 1, m=between if n else data["first"]) for n in range(count)]
        if data["layout"] == "loop":
            lengths.append(Length(a=count, b=0, m=data["first"]))
    return LampRun(
        supply_v=data["supply"], cable=data["cable"], lamps=tuple(lamps), cables=tuple(lengths),
        conductor_c=20.0 if data["conductor"] is None else data["conductor"],
    )  # fmt: skip


def volts(form: VoltsForm, words: Words) -> VoltsAnswer:
    """The volts at the first and the last lamp, and the ways that bring all into their band."""
    data, run = form.cleaned_data, run_of(form)
    try:
        found = volts_at(run)
    except UserError as error:
        return VoltsAnswer(first="", last="", drop="", amperes="", pictures=[], remedies=[], refused=error_text(error))
    lit = [v for v, lamp in zip(found.lamps.tolist(), run.lamps, strict=True) if lamp.va]
    load = Load(run=run, low_v=data["low"] or None, taps_v=data["taps"])
    band = (data["low"], float(MAX_VOLTS)) if data["low"] else None
    return VoltsAnswer(
        first=f"{lit[0]:.2f} V",
        last=f"{min(lit):.2f} V",
        drop=f"{data['supply'] - min(lit):.2f} V, {(data['supply'] - min(lit)) / data['supply']:.0%}",
        amperes=f"{found.supply_a:.2f} A, {found.va:.0f} VA",
        pictures=[cable_run(run, found.lamps.tolist(), band, narrow=narrow) for narrow in (False, True)],
        remedies=[
            f"{capital(remedy.text)}: {remedy.lowest_v:.1f} to {remedy.highest_v:.1f} V"
            for remedy in load_remedies(load)
        ],
        refused="",
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class ContactAnswer:
    """The contact that a load needs."""

    logic: Logic
    pictures: list[str]
    escape: bool


def contact(form: ContactForm, words: Words) -> ContactAnswer:
    """Which contact, and what the load does in every state."""
    sort = form.cleaned_data["sort"]
    logic = LOGIC[sort]
    low = sort in (*LOCKS, "valve", "bell", "gate")
    drawn = Wiring(
        common="common", opens="open", closes="closed", wired=logic.contact, load=logic.name.split(",")[0].split(" that ")[0],
        supply=("+", "–") if low else ("L", "N"), dry=True,
    )  # fmt: skip
    does = {False: logic.off, True: logic.on}
    return ContactAnswer(
        logic=logic,
        pictures=[wiring(drawn, relay_on=on, does=text) for on, text in does.items()],
        escape=form.cleaned_data["escape"],
    )
