"""Sites and units from a table: read whole, shown before anything is written, then all of it or nothing."""

import csv
import io
from dataclasses import dataclass
from typing import Any

from django.urls import reverse

from skavit.background import services as background
from skavit.background.models import Job
from skavit.background.work import EDITORS, Outcome, Report, does
from skavit.core.ground.errors import PlanError
from skavit.core.ground.strict_json import UNSTORABLE
from skavit.core.kinds import shipped_kinds
from skavit.core.text.wording import count
from skavit.core.trades import SWITCHING
from skavit.crews.models import Crew, Membership
from skavit.sites.forms import PlaceForm
from skavit.sites.models import Site
from skavit.sites.services import save_site
from skavit.units.models import Unit
from skavit.units.services.units import add_unit

IMPORT_SITES = "import-sites"
COLUMNS = ("site", "latitude", "longitude", "timezone", "area", "unit", "whereabouts", "kind", "channels")
NEEDED = ("site", "latitude", "longitude")
MOST_ROWS = 2_000
LONGEST = {"site": 80, "unit": 80, "area": 60, "whereabouts": 120}


@dataclass(frozen=True, slots=True, kw_only=True)
class Row:
    """A line of the table: a site, and the unit that hangs there, if one is named."""

    line: int
    site: str
    latitude: float
    longitude: float
    timezone: str
    area: str
    unit: str
    whereabouts: str
    kind: str
    channels: tuple[str, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Bad:
    """A line that cannot be taken, and why."""

    line: int
    text: str


@dataclass(frozen=True, slots=True, kw_only=True)
class SitesFile:
    """A table as it was read."""

    rows: tuple[Row, ...]
    bad: tuple[Bad, ...]
    new_sites: int

    @property
    def units(self) -> int:
        """How many units it adds."""
        return sum(bool(row.unit) for row in self.rows)


def read_sites(data: bytes, crew: Crew) -> SitesFile:
    """Read a table for a crew; every bad line is named. Raises :class:`PlanError` where it is no such table."""
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise PlanError("", f"byte {error.start} is not UTF-8", "a CSV table in UTF-8") from error
    lines = csv.DictReader(io.StringIO(text))
    try:
        head = [name.strip().lower() for name in lines.fieldnames or []]
        lines.fieldnames = head
        raw = [(lines.line_num, line) for line in lines]
    except csv.Error as error:
        raise PlanError("", f"not CSV ({error})", "a CSV table in UTF-8") from error
    missing = [name for name in NEEDED if name not in head]
    unknown = [name for name in head if name not in COLUMNS]
    if missing or unknown or len(set(head)) < len(head):
        wrong = (
            f"the first line has no {missing[0]}"
            if missing
            else f"the first line has {', '.join(unknown) or 'a name twice'}"
        )
        raise PlanError("", wrong, f"a first line with {', '.join(COLUMNS)}, of which {', '.join(NEEDED)} are needed")
    if len(raw) > MOST_ROWS:
        raise PlanError("", f"{len(raw):,} lines are too many", f"at most {MOST_ROWS:,}")
    return _judged(raw, crew)


def _judged(raw: list[tuple[int, dict[str, Any]]], crew: Crew) -> SitesFile:
    known = {site.name: site for site in crew.sites.there()}
    units = set(Unit.objects.there().filter(site__crew=crew).values_list("site__name", "name"))
    rows: list[Row] = []
    bad: list[Bad] = []
    places: dict[str, tuple[float, float, str]] = {name: _place(site) for name, site in known.items()}
    for line, cells in raw:
        try:
            row = _row(line, cells)
            _judge(row, places, units)
        except ValueError as error:
            bad.append(Bad(line=line, text=str(error)))
            continue
        places[row.site] = (row.latitude, row.longitude, row.timezone)
        units.add((row.site, row.unit))
        rows.append(row)
    new = len({row.site for row in rows} - set(known))
    return SitesFile(rows=tuple(rows), bad=tuple(bad), new_sites=new)


def _judge(row: Row, places: dict[str, tuple[float, float, str]], units: set[tuple[str, str]]) -> None:
    """Raise :class:`ValueError` for a line that contradicts what is there or what was read before it."""
    if row.site in places and places[row.site] != (row.latitude, row.longitude, row.timezone):
        raise ValueError(f"{row.site} lies elsewhere already. Accepted: the same place, or another name.")
    if row.unit and (row.site, row.unit) in units:
        raise ValueError(f"{row.site} has a unit {row.unit} already. Accepted: another name.")


def _place(site: Site) -> tuple[float, float, str]:
    return site.latitude, site.longitude, site.timezone


def _row(line: int, cells: dict[str, Any]) -> Row:
    """A line; raises :class:`ValueError` with what is wrong and what is accepted."""
    if None in cells or None in cells.values():
        raise ValueError("It has more or fewer cells than the first line. Accepted: one for each.")
    given = {name: str(cells.get(name, "")).strip() for name in COLUMNS}
    for name, most in LONGEST.items():
        if len(given[name]) > most or UNSTORABLE.search(given[name]):
            raise ValueError(f"{name}: too long, or no text. Accepted: at most {most} letters.")
    if not given["site"]:
        raise ValueError("site: empty. Accepted: a name.")
    form = PlaceForm({name: given[name] for name in ("latitude", "longitude", "timezone")})
    if not form.is_valid():
        name, errors = next(iter(form.errors.items()))
        raise ValueError(f"{name}: {errors[0]}")
    kind = next((kind for kind in shipped_kinds() if given["kind"] in (kind.slug, kind.name)), None)
    if given["kind"] and kind is None:
        raise ValueError(f"kind: {given['kind'][:60]} is not known. Accepted: the name of a kind that ships, or empty.")
    channels = tuple(part.strip() for part in given["channels"].split(";") if part.strip())
    if any(len(name) > 80 for name in channels) or len(channels) > (kind.channels if kind else 64):
        raise ValueError(
            "channels: too many, or a name too long. Accepted: names with ; between them, as many as the kind has."
        )
    if not given["unit"] and (kind or channels or given["whereabouts"]):
        raise ValueError("unit: empty, but something is said of it. Accepted: a name.")
    return Row(
        line=line,
        site=given["site"],
        latitude=form.cleaned_data["latitude"],
        longitude=form.cleaned_data["longitude"],
        timezone=form.cleaned_data["timezone"],
        area=given["area"],
        unit=given["unit"],
        whereabouts=given["whereabouts"],
        kind=kind.slug if kind else "",
        channels=channels or ((given["unit"],) if kind is None or kind.trade is SWITCHING else ()),
    )


def ask_import_sites(membership: Membership, data: bytes) -> Job:
    """Take a table in the background."""
    return background.begin(
        membership, IMPORT_SITES, "Sites and units from a table", {}, reverse("exchange"), upload=data
    )


@does(IMPORT_SITES, EDITORS)
def do_import_sites(job: Job, report: Report) -> Outcome:
    """Read a table again, and write all of it or nothing. The round works the years out, with nothing locked."""
    membership = background.asked_by(job)
    report(5, "reading the table")
    found = read_sites(bytes(job.upload or b""), job.crew)
    if found.bad:
        raise background.Refused(f"Line {found.bad[0].line}: {found.bad[0].text} Nothing was taken.")
    report(20, f"writing {count(len(found.rows), 'line')}")
    with background.applying(job):
        for row in found.rows:
            _write(membership, row)
        told = f"{count(found.new_sites, 'site')} and {count(found.units, 'unit')} added."
        outcome = Outcome(told=told, then=reverse("round"))
        background.finish(job, outcome)
    return outcome


def _write(membership: Membership, row: Row) -> None:
    site = membership.crew.sites.there().filter(name=row.site).first()
    if site is None:
        place = {"latitude": row.latitude, "longitude": row.longitude, "timezone": row.timezone}
        site = save_site(membership, None, {"name": row.site, "area": row.area, **place})
    if not row.unit:
        return
    kind = next((kind for kind in shipped_kinds() if kind.slug == row.kind), None)
    add_unit(
        membership,
        site,
        name=row.unit,
        whereabouts=row.whereabouts,
        channels=list(row.channels),
        kind=kind,
        trade=kind.trade if kind else SWITCHING,
    )
