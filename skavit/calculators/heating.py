"""What the calculators of heat, hot water, pulses and the mode to leave answer."""

from dataclasses import dataclass

import numpy as np

from skavit.calculators.heating_forms import ModeForm, PulsesForm, ReheatForm, WarmUpForm
from skavit.core.ground.arrays import DAY_S
from skavit.core.heat.room import cooled_c, warm_up_min
from skavit.core.heat.store import reheat as reheated
from skavit.core.plan.heat import Room
from skavit.core.simulation.pulses import trains
from skavit.core.text.wording import Words, count, duration_text

SCALDS_C, BREEDS_C = 50.0, 60.0
NIGHT_MIN = 8 * 60


@dataclass(frozen=True, slots=True, kw_only=True)
class WarmUpAnswer:
    """How long a room takes; empty where it never gets there."""

    takes: str
    start: str  # when to begin, where it is asked for
    settles: str  # what it comes to in the end with the heater on
    cooled: str  # after a night without heat


def warm_up(form: WarmUpForm, words: Words) -> WarmUpAnswer:
    """How long the heater needs, and when it must begin."""
    data = form.cleaned_data
    room = Room(loss_w_k=data["loss"], capacity_wh_k=data["capacity"], heater_w=data["heater"])
    minutes = warm_up_min(room, data["outside"], data["start"], data["aim"])
    start = ""
    if minutes is not None and data["warm_at"] is not None:
        begins = data["warm_at"] - round(minutes) * 60
        before = -(begins // DAY_S)
        start = words.minute(begins % DAY_S) + (f", {count(before, 'day')} before" if before > 0 else "")
    return WarmUpAnswer(
        takes="" if minutes is None else duration_text(round(minutes) * 60),
        start=start,
        settles=words.warmth(data["outside"] + data["heater"] / data["loss"]),
        cooled=words.warmth(cooled_c(room, data["outside"], data["aim"], NIGHT_MIN)),
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class ReheatAnswer:
    """How long a store takes; empty where it never gets there."""

    takes: str
    stored: str  # that the water takes up
    used: str  # that the heater takes meanwhile; empty where it never gets there
    cautions: list[str]


def reheat(form: ReheatForm, words: Words) -> ReheatAnswer:
    """What it takes to heat a store."""
    data = form.cleaned_data
    found = reheated(data["litres"], data["cold"], data["hot"], data["heater"], data["loss"] or 0.0)
    cautions = []
    if data["hot"] > SCALDS_C:
        cautions.append("It scalds at the tap: a mixing valve, by the local code.")
    if data["hot"] < BREEDS_C:
        cautions.append("Stored below 60 °C, bacteria grow: local rules say how hot, and how often.")
    return ReheatAnswer(
        takes="" if found.minutes is None else duration_text(round(found.minutes) * 60),
        stored=f"{found.stored_kwh:.2f} kWh",
        used="" if found.kwh is None else f"{found.kwh:.2f} kWh",
        cautions=cautions,
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class PulsesAnswer:
    """Pulses of a day."""

    pulses: int
    on_time: str
    pause_s: int
    last: str  # how long the last one is, where it is cut off


def pulses(form: PulsesForm, words: Words) -> PulsesAnswer:
    """How many pulses a window holds: the last one is cut off by its end."""
    data = form.cleaned_data
    end = data["end"] + (DAY_S if data["end"] <= data["start"] else 0)
    _, on, off = trains(np.array([data["start"]]), np.array([end]), data["on_s"], data["every_s"], 0)
    last = int(off[-1] - on[-1])
    return PulsesAnswer(
        pulses=on.size,
        on_time=duration_text(int((off - on).sum())),
        pause_s=data["every_s"] - data["on_s"],
        last=f"{last} s" if last < data["on_s"] else "",
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class ModeAnswer:
    """How to leave a unit."""

    must: str
    steps: list[str]
    next: str


def mode(form: ModeForm, words: Words) -> ModeAnswer:
    """What the output must be doing, and how to leave the unit so that it does."""
    data = form.cleaned_data
    long, since = (data["off"] - data["on"]) % DAY_S, (data["now"] - data["on"]) % DAY_S
    must = "on" if since < long else "off"
    following = (data["off"], "off") if must == "on" else (data["on"], "on")
    steps = []
    if data["returns"] == "computes":
        steps.append("Into another mode and back to automatic: it takes the state of its program by itself.")
    elif data["does"] != must:
        steps += [f"Switch it {must} by hand first.", "Then to automatic: it keeps that until its next entry."]
    else:
        steps.append("To automatic: it keeps what it does until its next entry.")
    if data["returns"] == "unknown":
        steps.append("Look at the output once more: a unit that computes its state shows the same.")
    return ModeAnswer(must=must.upper(), steps=steps, next=f"{following[1].upper()} at {words.clock(following[0])}")
