"""A crew's whole data as one archive: ``crew.json`` with its rows, and its photos as files beside it (`skavit-crew/1`).

Rows are told by their place in their own list, from 1 in the order in which they were made, so that the same data give the
same archive wherever they lie. What is worked out (years, what is due) is left out and made anew; so are the secrets of links,
and passwords unless they are asked for.
"""

import json
import zipfile
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from datetime import datetime
from io import BytesIO
from typing import IO, Any
from uuid import uuid4

from django.core.exceptions import ValidationError
from django.core.serializers.json import DjangoJSONEncoder
from django.db import IntegrityError, models, transaction

from skavit.background.shares import turns
from skavit.core.ground.errors import UserError
from skavit.core.ground.strict_json import Node
from skavit.core.kinds.kind import read_kind
from skavit.core.plan.document import read_plan
from skavit.crews.models import Crew, Membership, User
from skavit.crews.names import looks_of
from skavit.due.models import Planned
from skavit.kinds.models import Kind
from skavit.server.now import read_now
from skavit.sites.models import Site
from skavit.units import results
from skavit.units.models import AsFound, MeantSo, PlanRevision, Tick, Unit
from skavit.visits.models import Note, Photo, Visit
from skavit.visits.services.photos import PhotoRefused, made_anew, photos_of

FORMAT = "skavit-crew/1"
ROWS, FOLDER = "crew.json", "photos"
MOST_ROWS_BYTES, MOST_PHOTO_BYTES, MOST_FILES = 400_000_000, 4_000_000, 200_000
PASSWORDS = ("password",)


class ArchiveRefused(UserError):
    """A file that is no archive of a crew, or cannot be put in; the text says where and why."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Part:
    """The rows of one model, and of its fields those that travel."""

    model: type[models.Model]
    of: Callable[[Crew], "models.QuerySet[Any]"]
    without: tuple[str, ...] = ()  # worked out, or put beside the rows
    later: tuple[str, ...] = ()  # that point at rows which come after
    lost: bool = False  # whether what a row points at may be gone: a state of long ago

    @property
    def name(self) -> str:
        """What the rows are called in the archive."""
        return self.model.__name__

    @property
    def fields(self) -> list[Any]:
        """The fields that travel, in the model's order."""
        without = {"id", self.model._meta.pk.name, *self.without}
        found = [field for field in self.model._meta.concrete_fields if field.name not in without]
        return sorted(found, key=lambda field: field.name)


def _history(model: Any, crew: str) -> Part:
    """The states of the rows of a model, which belong to a crew by what ``crew`` names."""
    return Part(model=model.history.model, of=lambda of: model.history.filter(**{crew: of}), lost=True)


HISTORIES = (
    _history(Crew, "history_relation"),
    _history(Membership, "history_relation__crew"),
    _history(Kind, "history_relation__crew"),
    _history(Site, "history_relation__crew"),
    _history(Unit, "history_relation__site__crew"),
)


def _people(crew: Crew) -> "models.QuerySet[User]":
    """Everybody whom something of a crew names."""
    units = {"unit__site__crew": crew}
    named: list[tuple[models.QuerySet[Any], str]] = [
        (crew.memberships.all(), "user"),
        (PlanRevision.objects.filter(**units), "author"),
        (Tick.objects.filter(**units), "by"),
        (MeantSo.objects.filter(**units), "by"),
        (AsFound.objects.filter(**units), "author"),
        (crew.visits.all(), "by"),
        (crew.visits.exclude(ended_by=None), "ended_by"),
        (photos_of(crew), "by"),
        (Note.objects.filter(**units), "by"),
        (Note.objects.filter(**units).exclude(away_by=None), "away_by"),
        (Planned.objects.filter(**units), "by"),
        (Planned.objects.filter(**units).exclude(person=None), "person"),
        *((part.of(crew).exclude(history_user=None), "history_user") for part in HISTORIES),
    ]
    keys = {pk for rows, name in named for pk in rows.order_by().values_list(name, flat=True).distinct()}
    return User.objects.filter(pk__in=keys)


# In the order in which they are put in: what a row points at comes before it, but for what is put in later.
PARTS = (
    Part(model=Crew, of=lambda crew: Crew.objects.filter(pk=crew.pk), without=("is_demo",)),
    Part(model=User, of=_people, without=("looks", "is_superuser", "is_staff", "last_login")),
    Part(model=Membership, of=lambda crew: crew.memberships.all()),
    Part(model=Kind, of=lambda crew: crew.kinds.all()),
    Part(model=Site, of=lambda crew: crew.sites.all()),
    Part(
        model=Unit, of=lambda crew: Unit.objects.filter(site__crew=crew), without=("result",), later=("head", "keyed")
    ),
    Part(model=PlanRevision, of=lambda crew: PlanRevision.objects.filter(unit__site__crew=crew)),
    Part(model=Tick, of=lambda crew: Tick.objects.filter(unit__site__crew=crew)),
    Part(model=MeantSo, of=lambda crew: MeantSo.objects.filter(unit__site__crew=crew)),
    Part(model=AsFound, of=lambda crew: AsFound.objects.filter(unit__site__crew=crew)),
    Part(model=Visit, of=lambda crew: crew.visits.all()),
    Part(model=Note, of=lambda crew: Note.objects.filter(unit__site__crew=crew)),
    Part(model=Photo, of=photos_of, without=("image",)),
    Part(model=Planned, of=lambda crew: Planned.objects.filter(unit__site__crew=crew)),
    *HISTORIES,
)


# Out


def write_archive(crew: Crew, file: IO[bytes], *, with_passwords: bool = False) -> None:
    """Write a crew's archive; with passwords (their hashes) only for whoever has the database anyway."""
    with transaction.atomic(), zipfile.ZipFile(file, "w", zipfile.ZIP_DEFLATED) as archive:
        places: dict[type[models.Model], dict[int, int]] = {}
        rows = {part.name: list(_rows(part, crew, places, with_passwords=with_passwords)) for part in PARTS}
        document = {"format": FORMAT, "rows": rows}
        archive.writestr(ROWS, json.dumps(document, cls=DjangoJSONEncoder, ensure_ascii=False, indent=1))
        for photo in photos_of(crew).order_by("pk").iterator(chunk_size=20):
            name = f"{FOLDER}/{places[Photo][photo.pk]}.jpg"
            archive.writestr(zipfile.ZipInfo(name), bytes(photo.image), zipfile.ZIP_STORED)


def _rows(
    part: Part, crew: Crew, places: dict[type[models.Model], dict[int, int]], *, with_passwords: bool
) -> Iterator[dict[str, Any]]:
    queryset = part.of(crew).order_by("pk")
    keys = list(queryset.values_list("pk", flat=True))
    places[part.model] = {pk: place for place, pk in enumerate(keys, start=1)}
    if part.model is Unit:
        revisions = PlanRevision.objects.filter(unit__site__crew=crew).order_by("pk").values_list("pk", flat=True)
        places[PlanRevision] = {pk: place for place, pk in enumerate(revisions, start=1)}
    bare = queryset.only(*(field.name for field in part.fields))
    for row in bare.iterator(chunk_size=500):
        yield {
            field.name: _out(field, row, places, lost=part.lost, with_passwords=with_passwords) for field in part.fields
        }


def _out(
    field: Any, row: Any, places: dict[type[models.Model], dict[int, int]], *, lost: bool, with_passwords: bool
) -> Any:
    if field.name in PASSWORDS and not with_passwords:
        return ""
    value = getattr(row, field.attname)
    if field.is_relation and value is not None:
        place = places[field.related_model]
        return place.get(value) if lost else place[value]
    # Whole: JSON of the framework would cut a moment to its milliseconds.
    return value.isoformat() if isinstance(value, datetime) else value


# In


def read_archive(file: IO[bytes]) -> Crew:
    """Put the crew of an archive in, all of it or nothing; its years are worked out by :func:`work_out`.

    Raises :class:`ArchiveRefused` for a file that is no archive, a crew or a person whose name is taken, and for anything in it
    that is not sound.
    """
    try:
        with zipfile.ZipFile(file) as archive:
            return _put_in(archive)
    except (zipfile.BadZipFile, KeyError, EOFError, NotImplementedError) as error:
        raise ArchiveRefused(f"no archive of a crew ({error}); accepted: a file that export_crew made") from error


def _put_in(archive: zipfile.ZipFile) -> Crew:
    if len(archive.namelist()) > MOST_FILES:
        raise ArchiveRefused(f"more than {MOST_FILES:,} files; accepted: fewer")
    rows = _read_rows(archive)
    made: dict[type[models.Model], list[Any]] = {}
    later: list[tuple[Any, str, int]] = []
    with transaction.atomic():
        for part in PARTS:
            made[part.model] = []  # grows row by row: a revision points at one before it
            for place, raw in enumerate(rows[part.name], start=1):
                made[part.model].append(_make(part, place, raw, made, later, archive))
        for row, name, place in later:
            row.point(**{name: _target(made, PlanRevision, place, name)})
    crew: Crew = made[Crew][0]
    return crew


def _read_rows(archive: zipfile.ZipFile) -> dict[str, list[dict[str, Any]]]:
    data = _bytes(archive, ROWS, MOST_ROWS_BYTES)
    try:
        document = json.loads(data)
        has_nul = _has_nul(document)
    except (ValueError, RecursionError) as error:
        raise ArchiveRefused(f"{ROWS}: not JSON, or nested too deeply ({error})") from error
    if has_nul:
        raise ArchiveRefused(f"{ROWS}: a character that is no text; accepted: letters, digits, signs")
    if not isinstance(document, dict) or document.get("format") != FORMAT:
        raise ArchiveRefused(f'{ROWS}: no "format" of "{FORMAT}"; accepted: a file that export_crew made')
    rows = document.get("rows")
    names = [part.name for part in PARTS]
    if not isinstance(rows, dict) or sorted(rows) != sorted(names) or not all(isinstance(rows[n], list) for n in names):
        raise ArchiveRefused(f"{ROWS}: rows; accepted: a list each of {', '.join(names)}")
    if len(rows[Crew.__name__]) != 1:
        raise ArchiveRefused(f"{ROWS}: {len(rows[Crew.__name__])} crews; accepted: one")
    return rows


def _has_nul(value: Any) -> bool:
    """Whether a text in a JSON value holds the one character that the database does not take."""
    match value:
        case str():
            return "\x00" in value
        case dict():
            return any(_has_nul(part) for pair in value.items() for part in pair)
        case list():
            return any(_has_nul(part) for part in value)
    return False


def _bytes(archive: zipfile.ZipFile, name: str, most: int) -> bytes:
    """A file of the archive; how large it is, is known before it is unpacked."""
    if archive.getinfo(name).file_size > most:
        raise ArchiveRefused(f"{name}: larger than {most:,} bytes")
    with archive.open(name) as file:
        return file.read(most)


def _make(
    part: Part, place: int, raw: Any, made: dict[type[models.Model], list[Any]], later: list[tuple[Any, str, int]],
    archive: zipfile.ZipFile,
) -> Any:  # fmt: skip
    """A row as it was, with nothing of it set anew."""
    where = f"{part.name} {place}"
    fields = part.fields
    if not isinstance(raw, dict) or sorted(raw) != [field.name for field in fields]:
        raise ArchiveRefused(f"{where}: other fields; accepted: {', '.join(field.name for field in fields)}")
    row: Any = part.model()
    pointed: list[tuple[str, int]] = []
    for field in fields:
        value = raw[field.name]
        if field.name in part.later:
            pointed += [(field.name, value)] if value is not None else []
        elif field.is_relation:
            found = None if value is None else _target(made, field.related_model, value, f"{where}: {field.name}")
            setattr(row, field.name, found)
        else:
            setattr(row, field.attname, _read(field, value, where))
    if part.lost:
        row.id = row.history_relation_id
    if hasattr(row, "token") and part.model._default_manager.filter(token=row.token).exists():
        row.token = uuid4()  # put in beside the crew that it was written from
    _judge(row, where, archive, place)
    try:
        with transaction.atomic():
            # What points at another row was found there; that something may not be empty is a rule of forms.
            empty = [f.name for f in fields if f.is_relation or getattr(row, f.attname) in (None, "", {}, [])]
            row.full_clean(exclude=[*empty, *part.without])
            row.save_base(raw=True, force_insert=True)
    except ValidationError as error:
        raise ArchiveRefused(f"{where}: {'; '.join(error.messages)}") from error
    except IntegrityError as error:
        raise ArchiveRefused(f"{where}: the like of it is there already") from error
    later += [(row, name, place) for name, place in pointed]
    return row


def _read(field: Any, value: Any, where: str) -> Any:
    try:
        return field.to_python(value)
    except (ValidationError, TypeError, ValueError) as error:
        raise ArchiveRefused(f"{where}: {field.name} is not accepted") from error


def _target(made: dict[type[models.Model], list[Any]], model: type[models.Model], place: Any, where: str) -> Any:
    rows = made.get(model, [])
    if not isinstance(place, int) or isinstance(place, bool) or not 1 <= place <= len(rows):
        raise ArchiveRefused(f"{where}: points at a {model.__name__} that is not there")
    return rows[place - 1]


def _judge(row: Any, where: str, archive: zipfile.ZipFile, place: int) -> None:
    """What documents and pictures must be; who comes without a password chooses one by a link."""
    try:
        match row:
            case PlanRevision():
                read_plan(Node(row.document))
            case Visit() if row.document is not None:
                read_plan(Node(row.document))
            case Kind():
                read_kind(Node(row.document))
    except UserError as error:
        raise ArchiveRefused(f"{where}: {error}") from error
    if isinstance(row, Photo):
        sent = _bytes(archive, f"{FOLDER}/{place}.jpg", MOST_PHOTO_BYTES)
        try:
            jpeg = made_anew(BytesIO(sent), len(sent))  # whoever wrote the archive may have put anything in its place
        except PhotoRefused as error:
            raise ArchiveRefused(f"{where}: {error}") from error
        row.image, row.width, row.height = jpeg.data, jpeg.width, jpeg.height
    if isinstance(row, User):
        row.looks = looks_of(row.username)
        if not row.password:
            row.set_unusable_password()


def work_out(crew: Crew, report: Callable[[int, int], None]) -> None:
    """The years of a crew's units, which no archive holds; ``report`` is told how many of how many are done."""
    units = (
        Unit.objects.there().filter(site__crew=crew, site__removed=None).select_related("site", "head", "kind", "keyed")
    )
    keys, now = list(units.order_by("pk").values_list("pk", flat=True)), read_now()
    done = 0
    for turn in turns(keys):
        results.keep_results(list(units.filter(pk__in=turn)), now)
        done += len(turn)
        report(done, len(keys))
