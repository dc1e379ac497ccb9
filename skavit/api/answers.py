"""What is answered: the shapes of the JSON, and how they are made of what the application keeps."""

import datetime as dt
from typing import Any

from ninja import Field, Schema

from skavit.core.due import Sort, due_text
from skavit.core.findings import read_kept
from skavit.crews.models import Crew
from skavit.due.models import Due
from skavit.sites.models import Site
from skavit.units.models import Unit
from skavit.units.results import kept_words


class SiteAnswer(Schema):
    """A site."""

    id: int
    name: str
    latitude: float = Field(description="degrees, north positive")
    longitude: float = Field(description="degrees, east positive")
    timezone: str = Field(description="IANA name")
    area: str
    archived: bool

    @staticmethod
    def resolve_archived(site: Site) -> bool:
        """Whether it is off the round."""
        return site.archived is not None


class UnitAnswer(Schema):
    """A unit."""

    id: int
    site: int = Field(description="id of its site", validation_alias="site_id")
    name: str
    whereabouts: str
    kind: str = Field(description="name of its kind, empty where none is chosen", validation_alias="kind_name")
    revision: int = Field(description="number of the state of its plan")
    keyed_revision: int | None = Field(description="number of the state that stands in the unit since its last visit")
    awaits_keying: bool
    worst: str = Field(description="danger, warning or note; empty where nothing is found or it is not worked out")
    archived: bool

    @staticmethod
    def resolve_revision(unit: Unit) -> int:
        """The number of its plan's state."""
        return unit.head_revision.number

    @staticmethod
    def resolve_keyed_revision(unit: Unit) -> int | None:
        """The number of the revision that the unit holds."""
        return unit.keyed.number if unit.keyed else None

    @staticmethod
    def resolve_worst(unit: Unit) -> str:
        """How bad the worst of its findings is."""
        return unit.result.severity if unit.result else ""

    @staticmethod
    def resolve_archived(unit: Unit) -> bool:
        """Whether it is off the round."""
        return unit.archived is not None or unit.site.archived is not None


class FindingAnswer(Schema):
    """A finding of the plan, over this year."""

    code: str
    severity: str = Field(description="danger, warning or note")
    channel: int | None = Field(description="number of the output, from 1")
    first: dt.date
    last: dt.date
    days: int = Field(description="how many dates it shows on")
    hours: float | None
    text: str

    @classmethod
    def of(cls, raw: dict[str, Any], crew: Crew) -> "FindingAnswer":
        """A finding as it is kept, in the crew's words."""
        found = read_kept(raw)
        return cls(
            code=found.code,
            severity=found.severity.value,
            channel=found.channel,
            first=found.first,
            last=found.last,
            days=found.days,
            hours=found.hours,
            text=found.text(kept_words(raw, crew.words)),
        )


class SwitchingAnswer(Schema):
    """A period for which an output, or a station, is on."""

    output: str
    on: dt.datetime
    off: dt.datetime


class DueAnswer(Schema):
    """Something to do at a unit."""

    unit: int = Field(description="id of the unit")
    site: int = Field(description="id of its site")
    sort: str
    date: dt.date | None = Field(description="by when; null: now")
    text: str
    person: str = Field(description="who is to go, where a visit is planned")
    planned: dt.date | None

    @classmethod
    def of(cls, due: Due, crew: Crew) -> "DueAnswer":
        """A thing to do, in the crew's words."""
        planned = getattr(due.unit, "planned", None)
        return cls(
            unit=due.unit_id,
            site=due.unit.site_id,
            sort=due.sort,
            date=due.date,
            text=due_text(Sort(due.sort), due.count, crew.words),
            person=str(planned.person or "") if planned else "",
            planned=planned.date if planned else None,
        )


class Refusal(Schema):
    """Why something is not answered."""

    detail: str
