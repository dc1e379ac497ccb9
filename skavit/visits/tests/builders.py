"""Visits for tests."""

from io import BytesIO
from uuid import uuid4

from PIL import Image

from skavit.server.now import read_instant
from skavit.visits.services.photos import add_photo
from skavit.visits.services.visits import Found, end_visit, take_up


def written(fields, was=None):
    """Fields as a page sends them: each with what stood there before."""
    was = was or {}
    return fields | {f"was-{name}": was.get(name, "") for name in fields}


LEFT = {"keyed": "keyed", "left_mode": "automatic", "after_cover": "right", "signed": "Kahu"}


def picture(form="PNG", size=(2400, 1200), colour="orange"):
    """A picture as a phone would send it."""
    out = BytesIO()
    Image.new("RGB", size, colour).save(out, form)
    out.seek(0)
    out.name = f"photo.{form.lower()}"
    return out


def new_token():
    return str(uuid4())


def make_visit(unit, membership):
    """A visit at which the unit was keyed and left in automatic, with a photo."""
    instant = read_instant()
    visit = take_up(unit, membership, uuid4(), instant)
    visit.told = {"left_mode": {"value": "automatic", "by": "x", "at": ""}}
    visit.save()
    photo = add_photo(visit, membership, uuid4(), picture(), 10, instant)
    found = Found(shown={}, lines="", entries=())
    end_visit(visit, membership, found=found, keyed=unit.head, steps=[], read={}, instant=instant)
    return visit, photo
