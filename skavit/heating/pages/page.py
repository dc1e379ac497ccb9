"""What the page of a unit that holds temperatures shows."""

from dataclasses import dataclass
from typing import Any

from django.http import Http404

from skavit.charts.warmth_sheet import warmth_sheet
from skavit.core.ground.arrays import DAY_S
from skavit.core.heat.moment import ZoneNow
from skavit.core.kinds.spoken import presses_text
from skavit.core.plan.document import Plan
from skavit.core.plan.heat_edits import Side, groups, heat_of
from skavit.core.text.wording import Words, days_text, duration_text, weekday_date
from skavit.heating.pages.by_hand import HeatByHandForm, heat_by_hand_rows
from skavit.heating.pages.day import HeatDay, heat_day
from skavit.heating.pages.points_form import Place, PointsForm
from skavit.heating.pages.rooms import RoomShown, room_shown
from skavit.now import local_digits
from skavit.units.models import Unit
from skavit.units.pages.numbered import Numbered, marks_of, numbered
from skavit.units.pages.plan.by_hand_rows import ByHandRow
from skavit.units.pages.plan.forms import ImportForm
from skavit.units.pages.plan.night import Strip
from skavit.units.pages.plan.page import changed_text, today_text
from skavit.units.pages.plan.rows import Forms
from skavit.units.pages.plan.trial import tried
from skavit.units.pages.view import View
from skavit.units.pages.way import Way, way_of
from skavit.units.results import UnitYear, unit_year


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
class HeatingPage:
    """The page: what is looked at, what it does, what is wrong, what is wanted and what is keyed in."""

    unit: Unit
    plan: Plan
    revision: int
    changed: str
    view: View
    findings: list[Numbered]
    untold: int
    worst: Numbered | None
    serious: list[Numbered]
    notes: list[Numbered]
    sheet: str
    sheet_turned: str
    legend: Legend
    shades: list[tuple[int, str]]
    strip: Strip
    night: HeatDay
    channels: list[Any]  # none: findings name channels of other units by them
    zones: list[ZoneLink]
    zone: str
    may_add_zone: bool
    wanted_rows: list[GroupRow]
    wanted_new: Any
    keyed_rows: list[GroupRow]
    keyed_new: Any
    others: list[ZoneLink]  # that want something, where this one wants nothing yet
    wanted: bool
    entries: bool
    room: RoomShown
    hand_keys: list[tuple[str, str]]
    way: Way
    by_hand: list[ByHandRow]
    by_hand_new: Any
    undo: bool
    redo: bool
    import_form: ImportForm


def form_at(place: str, plan: Plan, revision: int, words: Words, data: Any = None) -> PointsForm:
    """The form at a place, empty or with what was typed; 404 for no such place."""
    at = Place.read(place)
    if not 0 <= at.zone < len(heat_of(plan).zones):
        raise Http404(place)
    return PointsForm(data, at=at, plan=plan, words=words, initial={"revision": revision})


def heating_page(
    unit: Unit, view: View, words: Words, now: int, forms: Forms | None = None, *, may_edit: bool = True
) -> HeatingPage:
    """All that the page shows; ``forms`` are those open by their place, refused ones with what was typed."""
    plan, revision = unit.plan, unit.head_revision
    heat, forms = heat_of(plan), forms or {}
    zone = heat.zones[view.channel - 1]
    if may_edit and not any(each.wanted for each in heat.zones):
        place = f"wanted-{view.channel}-new"  # the first question of an empty unit stands open
        forms = {place: form_at(place, plan, revision.number, words), **forms}
    found = unit_year(plan, view.year)
    warmed = found.heat
    assert warmed is not None
    listed = numbered(found, words)
    serious = [n for n in listed if n.finding.severity != "note"]
    picture = [_picture(found, view, listed, words, now, turned=turned) for turned in (False, True)]
    links = [ZoneLink(number=n, name=each.name) for n, each in enumerate(heat.zones, start=1)]
    has = unit.core_kind.heating if unit.core_kind else None
    return HeatingPage(
        unit=unit,
        plan=plan,
        revision=revision.number,
        changed=changed_text(plan, revision, words),
        view=view,
        findings=listed,
        untold=len(found.findings) - len(listed),
        worst=serious[0] if serious else None,
        serious=serious,
        notes=[n for n in listed if n.finding.severity == "note"],
        sheet=picture[0],
        sheet_turned=picture[1],
        legend=_legend(found, view, words),
        shades=_shades(found, view, words),
        strip=heating_strip(plan, found.zones(now), view, words, now),
        night=heat_day(found, view, words, now),
        channels=[],
        zones=links,
        zone=zone.name,
        may_add_zone=has is None or len(heat.zones) < has.zones,
        wanted_rows=_rows(plan, "wanted", view.channel, words, forms),
        wanted_new=forms.get(f"wanted-{view.channel}-new"),
        keyed_rows=_rows(plan, "keyed", view.channel, words, forms),
        keyed_new=forms.get(f"keyed-{view.channel}-new"),
        others=[link for link in links if not zone.wanted and heat.zones[link.number - 1].wanted],
        wanted=any(each.wanted for each in heat.zones),
        entries=any(each.keyed for each in heat.zones),
        room=room_shown(plan, warmed, view.channel - 1, words),
        hand_keys=[(presses_text(hand.press), hand.says) for hand in unit.core_kind.hand_keys] if unit.core_kind else [],
        way=way_of(unit, found, words, now, may_edit=may_edit),
        by_hand=heat_by_hand_rows(plan, words),
        by_hand_new=forms.get("by-hand")
        or HeatByHandForm(
            plan=plan, words=words,
            initial={"revision": revision.number, "date": today_text(plan, now), "zone": view.channel},
        ),
        undo=revision.parent_id is not None,
        redo=revision.children.exists(),
        import_form=forms.get("import") or ImportForm(initial={"revision": revision.number}),
    )  # fmt: skip


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


def _picture(found: UnitYear, view: View, listed: list[Numbered], words: Words, now: int, *, turned: bool) -> str:
    year = found.warmth_year(view.channel - 1)
    assert year is not None
    today = local_digits(found.replay.plan, now) // DAY_S - year.first
    return warmth_sheet(
        year,
        marks=marks_of(listed, view.channel),
        cursor=view.day - year.first,
        today=today if 0 <= today < year.count else None,
        words=words,
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


def altered_lines(unit: Unit, form: PointsForm, year: int) -> list[str]:
    """What a valid form alters in a year, and what it would newly be found fault with. Raises PlanError for too large a plan."""
    words = form.words
    trial = tried(unit.plan, form.edit, year)
    before, after = trial.before.heat, trial.after.heat
    lines = []
    if before is not None and after is not None:
        old, new = before.zones[form.at.zone], after.zones[form.at.zone]
        for word, was, now in (
            ("too warm", old.too_warm_kh, new.too_warm_kh),
            ("too cold", old.too_cold_kh, new.too_cold_kh),
        ):
            if round(was) != round(now):
                lines.append(f"{words.kelvin_hours(now)} {word} a year, {words.kelvin_hours(was)} before.")
    return (lines or ["Alters nothing this year."]) + trial.new_headlines(words)
