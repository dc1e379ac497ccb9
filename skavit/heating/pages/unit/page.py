"""The two columns of a unit that holds temperatures, and what else its page shows."""

from dataclasses import dataclass
from typing import Any

from django.http import Http404

from skavit.charts.warmth_sheet import warmth_sheet
from skavit.core.ground.arrays import DAY_S
from skavit.core.heat.state import ZoneNow
from skavit.core.kinds.spoken import presses_text
from skavit.core.plan.document import Plan
from skavit.core.plan.heat_edits import Side, groups, heat_of
from skavit.core.text.wording import Words, days_text, duration_text, weekday_date
from skavit.heating.pages.rooms.forms import RoomShown, room_shown
from skavit.heating.pages.unit.points_form import Place, PointsForm
from skavit.server.now import local_digits
from skavit.units.pages.numbered_findings import marks_of
from skavit.units.pages.unit.parts import Forms, Strip
from skavit.units.pages.unit.trial import Trial
from skavit.units.pages.view import View
from skavit.units.trades import Shows
from skavit.units.years import UnitYear


@dataclass(frozen=True, slots=True, kw_only=True)
class GroupRow:
    """The set points of one day rule."""

    place: str
    days: str
    points: list[tuple[str, str]]  # time and degrees
    form: Any


@dataclass(frozen=True, slots=True, kw_only=True)
class ZoneLink:
    """A zone to look at."""

    number: int
    name: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Legend:
    """Degrees times hours a year of the zone, either way from what is wanted."""

    warm: str
    cold: str
    off: str


@dataclass(frozen=True, slots=True, kw_only=True)
class HeatingBody:
    """What is wanted of a zone, and its set points as keyed in."""

    legend: Legend
    shades: list[tuple[int, str]]
    zones: list[ZoneLink]
    zone: str
    may_add_zone: bool
    wanted_rows: list[GroupRow]
    wanted_new: Any
    keyed_rows: list[GroupRow]
    keyed_new: Any
    others: list[ZoneLink]  # that want something, where this one wants nothing yet
    room: RoomShown
    hand_keys: list[tuple[str, str]]


def form_at(place: str, plan: Plan, revision: int, words: Words, data: Any = None) -> PointsForm:
    """The form at a place, empty or with what was typed; 404 for no such place."""
    at = Place.read(place)
    if not 0 <= at.zone < len(heat_of(plan).zones):
        raise Http404(place)
    return PointsForm(data, at=at, plan=plan, words=words, initial={"revision": revision})


def heating_body(shows: Shows) -> HeatingBody:
    """Work out the two columns."""
    unit, found, view, words, forms = shows.unit, shows.found, shows.view, shows.words, shows.forms
    plan, kind, warmed = unit.plan, unit.core_kind, found.heat
    assert warmed is not None
    heat = heat_of(plan)
    zone = heat.zones[view.channel - 1]
    links = [ZoneLink(number=n, name=each.name) for n, each in enumerate(heat.zones, start=1)]
    has = kind.heating if kind else None
    return HeatingBody(
        legend=_legend(found, view, words),
        shades=_shades(found, view, words),
        zones=links,
        zone=zone.name,
        may_add_zone=has is None or len(heat.zones) < has.zones,
        wanted_rows=_rows(plan, "wanted", view.channel, words, forms),
        wanted_new=forms.get(f"wanted-{view.channel}-new"),
        keyed_rows=_rows(plan, "keyed", view.channel, words, forms),
        keyed_new=forms.get(f"keyed-{view.channel}-new"),
        others=[link for link in links if not zone.wanted and heat.zones[link.number - 1].wanted],
        room=room_shown(plan, warmed, view.channel - 1, words),
        hand_keys=[(presses_text(hand.press), hand.says) for hand in kind.hand_keys] if kind else [],
    )


def _rows(plan: Plan, side: Side, number: int, words: Words, forms: Forms) -> list[GroupRow]:
    """The day groups of one side of a zone (from 1)."""
    zone = heat_of(plan).zones[number - 1]
    return [
        GroupRow(
            place=(place := f"{side}-{number}-{index}"),
            days=days_text(days),
            points=[(words.clock(point.at.seconds), words.warmth(point.c)) for point in own],
            form=forms.get(place),
        )
        for index, (days, own) in enumerate(groups(zone.wanted if side == "wanted" else zone.keyed))
    ]


def year_picture(shows: Shows, *, turned: bool) -> str:
    """The year of the zone that is shown, as SVG."""
    found, view = shows.found, shows.view
    year = found.warmth_year(view.channel - 1)
    assert year is not None
    today = local_digits(found.replay.plan, shows.now) // DAY_S - year.first
    return warmth_sheet(
        year,
        marks=marks_of(shows.listed, view.channel),
        cursor=view.day - year.first,
        today=today if 0 <= today < year.count else None,
        words=shows.words,
        turned=turned,
    )


def _legend(found: UnitYear, view: View, words: Words) -> Legend:
    assert found.heat is not None
    zone = found.heat.zones[view.channel - 1]
    return Legend(
        warm=words.kelvin_hours(zone.too_warm_kh) if round(zone.too_warm_kh) else "",
        cold=words.kelvin_hours(zone.too_cold_kh) if round(zone.too_cold_kh) else "",
        off=f"{zone.off_h:,.0f} h" if zone.off_h else "",
    )  # fmt: skip


def _shades(found: UnitYear, view: View, words: Words) -> list[tuple[int, str]]:
    """The temperatures that the zone is held at, each with its shade, the warmest first."""
    year = found.warmth_year(view.channel - 1)
    assert year is not None
    held = sorted({float(c) for c in year.actual.c if c == c}, reverse=True)  # noqa: PLR0124 - none is not itself
    by_shade: dict[int, list[float]] = {}
    for c in held:
        by_shade.setdefault(year.shade(c), []).append(c)
    return [
        (shade, words.warmth(own[0]) if len(own) == 1 else f"{words.warmth(own[-1])} to {words.warmth(own[0])}")
        for shade, own in by_shade.items()
    ]


def heating_strip(plan: Plan, zones: tuple[ZoneNow, ...], view: View, words: Words, now: int) -> Strip:
    """The label strip: what the zone is held at, and when that changes."""
    digits, here = local_digits(plan, now), zones[view.channel - 1]
    state, tone = "Off" if here.c is None else words.warmth(here.c), "heat"
    if here.c is None or here.c > here.wanted_c:
        tone = "alarm" if here.c is not None else "gap"
    elif here.c < here.wanted_c:
        tone = "gap"
    named = f"{here.name}: " if len(zones) > 1 else ""
    since = f"by hand, wanted {words.warmth(here.wanted_c)}" if here.by_hand else ""
    if not since and here.c is not None and here.c != here.wanted_c:
        since = f"wanted {words.warmth(here.wanted_c)}"
    shown_now = f"{words.minute(digits % DAY_S)}, {weekday_date(digits // DAY_S)}"
    if here.until is None:
        return Strip(tone=tone, state=f"{named}{state}", since=since, now=shown_now)
    time, _, half = words.minute(local_digits(plan, here.until) % DAY_S).partition(" ")
    return Strip(
        tone=tone,
        state=f"{named}{state}",
        since=since,
        now=shown_now,
        next_time=time,
        next_half=half,
        next_action="off" if here.then_c is None else words.warmth(here.then_c),
        next_in=f"in {duration_text((here.until - now) // 60 * 60)}",
    )


def altered(trial: Trial, form: PointsForm, words: Words) -> list[str]:
    """What a valid form alters in the year of a trial, a line each."""
    before, after = trial.before.heat, trial.after.heat
    assert before is not None
    assert after is not None
    old, new = before.zones[form.at.zone], after.zones[form.at.zone]
    return [
        f"{words.kelvin_hours(now)} {word} a year, {words.kelvin_hours(was)} before."
        for word, was, now in (
            ("too warm", old.too_warm_kh, new.too_warm_kh),
            ("too cold", old.too_cold_kh, new.too_cold_kh),
        )
        if round(was) != round(now)
    ]
