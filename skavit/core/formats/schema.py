"""The plan file and the file of a kind as JSON Schemas (draft 2020-12), made from the records that read them.

They describe shape and ranges; rules between keys (an id used twice, a limit before another) are the readers'.
"""

import json
import sys

from skavit.core.ground.records import Schema
from skavit.core.kinds.kind import FORMAT, Kind
from skavit.core.plan.clock_settings import RULE
from skavit.core.plan.contact import Contact
from skavit.core.plan.days import DAYS
from skavit.core.plan.document import Channel, Plan, Site, Unit
from skavit.core.plan.entry import Entry
from skavit.core.plan.heat import Heat, SetPoint, Zone
from skavit.core.plan.limits import Limits
from skavit.core.plan.load import Load
from skavit.core.plan.times import CLOCK_TEXT, TIME_OF_ANY_FORM
from skavit.core.plan.water import Program, Station, Water
from skavit.core.plan.window import Window

DRAFT = "https://json-schema.org/draft/2020-12/schema"


def _defs() -> Schema:
    return {
        "clockTime": CLOCK_TEXT.schema(),
        "time": TIME_OF_ANY_FORM.schema(),
        "days": DAYS.schema(),
        "window": Window.schema(),
        "entry": Entry.schema(),
        "dst": RULE.schema(),
        "limits": Limits.schema(),
        "channel": Channel.schema(),
        "site": Site.schema(),
        "unit": Unit.schema(),
        "station": Station.schema(),
        "program": Program.schema(),
        "water": Water.schema(),
        "load": Load.schema(),
        "contact": Contact.schema(),
        "setPoint": SetPoint.schema(),
        "zone": Zone.schema(),
        "heat": Heat.schema(),
    }


def plan_schema() -> Schema:
    """The JSON Schema of the plan file as this release reads it."""
    found = Plan.schema()
    return {
        "$schema": DRAFT,
        "title": "Skavit plan file, skavit-plan/1",
        **found,
        "required": ["format", *found["required"]],
        "$defs": _defs(),
    }


def kind_schema() -> Schema:
    """The JSON Schema of the file of a kind of unit."""
    found = Kind.schema()
    return {
        "$schema": DRAFT,
        "title": "Skavit kind of unit, skavit-kind/1",
        **found,
        "properties": {"format": {"const": FORMAT}, **found["properties"]},
        "required": ["format", *found["required"]],
        "$defs": _defs(),
    }


if __name__ == "__main__":
    print(json.dumps(kind_schema() if sys.argv[1:] == ["kind"] else plan_schema(), indent=2))
