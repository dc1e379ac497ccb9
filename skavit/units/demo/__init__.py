"""The demo: an invented crew in Hawke's Bay, with sites that are clean and sites that are traps."""

from functools import partial
from typing import Any

from django.contrib.auth.hashers import make_password
from django.db import transaction

from skavit.core.ground.errors import UserError
from skavit.core.ground.strict_json import Node
from skavit.core.kinds import shipped_kinds
from skavit.core.plan.document import Plan, read_plan
from skavit.crews.models import Crew, Membership, Role, User
from skavit.crews.names import looks_of
from skavit.server.history import changes_by
from skavit.server.now import read_now
from skavit.sites.services import save_site
from skavit.units.demo import heat, loads, water
from skavit.units.demo.unit import DemoUnit, Row
from skavit.units.services import revisions
from skavit.units.services.units import choose_kind, create_unit

CREW = "North bay crew"
PEOPLE = {"owner": Role.OWNER, "kahu": Role.INSTALLER, "viewer": Role.VIEWER}
NORTH_BAY_DEG = -39.55


def _window(start: Any, to: Any, days: Any = "daily") -> Row:
    return {"from": start, "to": to, "days": days}


def _entry(action: str, at: Any, days: Any = "daily", channels: tuple[int, ...] = (1,)) -> Row:
    return {"channels": list(channels), "action": action, "at": at, "days": days}


UNITS = (
    # The morning ON comes after the sunrise OFF for some weeks in summer.
    DemoUnit(
        site="Harbour walk",
        latitude=-39.49,
        longitude=176.91,
        unit="Path lights",
        whereabouts="box at the north jetty, lower door",
        channels={"Path lights": [_window("sunset+10", "22:40"), _window("05:50", "sunrise")]},
        entries=[_entry("on", "sunset+10"), _entry("off", "22:40"), _entry("on", "05:50"), _entry("off", "sunrise")],
        limits={"entries": 16, "clock_step_s": 60, "limited_times": True},
    ),
    # Clean.
    DemoUnit(
        site="Orchard Rise hall",
        latitude=-39.62,
        longitude=176.83,
        unit="Forecourt",
        whereabouts="switchboard by the kitchen, second row",
        channels={
            "Forecourt": [_window("sunset", "22:30"), _window("05:15", "sunrise", "weekdays")],
            "Sign": [_window("sunset", "23:30")],
        },
        entries=[
            _entry("on", "sunset", channels=(1, 2)),
            _entry("off", "22:30"),
            _entry("on", "05:15", "weekdays"),
            _entry("off", "sunrise"),
            _entry("off", "23:30", channels=(2,)),
        ],
        limits={"entries": 28, "day_groups": ["daily", "weekdays", "weekends", "single-days"], "clock_step_s": 60},
    ),
    # The OFF acts on fewer days than the ON.
    DemoUnit(
        site="Station yard",
        latitude=-39.65,
        longitude=176.72,
        unit="Yard lights",
        whereabouts="pole at the weighbridge",
        channels={"Yard lights": [_window("sunset", "23:00")]},
        entries=[_entry("on", "sunset"), _entry("off", "23:00", "weekdays")],
        limits={"entries": 8, "day_groups": ["daily", "weekdays", "weekends"], "clock_step_s": 60},
        on_return="waits",
    ),
    # A unit that keeps another country's daylight-saving dates.
    DemoUnit(
        site="Saltmarsh car park",
        latitude=-39.54,
        longitude=176.89,
        unit="Sign",
        whereabouts="back of the pay hut",
        channels={"Sign": [_window("sunset", "22:30"), _window("06:15", "08:30", "weekdays")]},
        entries=[
            _entry("on", "sunset"),
            _entry("off", "22:30"),
            _entry("on", "06:15", "weekdays"),
            _entry("off", "08:30", "weekdays"),
        ],
        clock={"dst": "us"},
        limits={"entries": 12, "clock_step_s": 60},
    ),
    # Holds an entry of its last owner.
    DemoUnit(
        site="Shingle Bay",
        latitude=-39.40,
        longitude=177.02,
        unit="Changing rooms",
        whereabouts="plant room, left of the pump",
        channels={"Changing rooms": [_window("dusk", "21:15", {"days": "daily", "between": ["10-15", "04-15"]})]},
        entries=[
            _entry("on", "dusk", {"days": "daily", "between": ["10-15", "04-15"]}),
            _entry("off", "21:15"),
            _entry("off", "12:00", ["wed"]),
        ],
        limits={"entries": 16, "clock_step_s": 60},
    ),
    # Of a kind, whose keys the entry sheet names.
    DemoUnit(
        site="Packhouse",
        latitude=-39.58,
        longitude=176.80,
        unit="Wash water",
        whereabouts="cupboard behind the grading line",
        kind="heating-programmer-two-channels",
        channels={
            "Hot water": [_window("05:10", "06:50"), _window("15:20", "17:40")],
            "Wash room": [_window("05:50", "16:30", "weekdays")],
        },
        entries=[
            _entry("on", "05:10"),
            _entry("off", "06:50"),
            _entry("on", "15:20"),
            _entry("off", "17:40"),
            _entry("on", "05:50", "weekdays", channels=(2,)),
            _entry("off", "16:30", "weekdays", channels=(2,)),
        ],
    ),
    # Mists, with the pause keyed where the whole cycle was meant; the vents beside it are keyed anew for the winter.
    DemoUnit(
        site="Windmill nursery",
        latitude=-39.60,
        longitude=176.86,
        unit="Mist and vents",
        whereabouts="potting shed, behind the door",
        channels={
            "Mist": [_window("07:10", "16:25") | {"repeat": {"on_s": 8, "every_s": 240}}],
            "Vents": [
                _window("09:00", "17:00", {"days": "daily", "between": ["10-01", "04-04"]}),
                _window("11:00", "15:00", {"days": "daily", "between": ["04-05", "09-30"]}),
            ],
        },
        entries=[
            _entry("on", "07:10") | {"repeat": {"on_s": 8, "off_s": 240, "until": "16:25"}},
            _entry("on", "09:00", channels=(2,)),
            _entry("off", "17:00", channels=(2,)),
        ],
        limits={"entries": 6, "clock_step_s": 60, "actions": ["on", "off", "repeat"]},
        holidays=[{"from": "12-25", "days": 2}],
        keyings=[
            {
                "from": "04-05",
                "name": "Winter",
                "entries": [
                    _entry("on", "07:10") | {"repeat": {"on_s": 8, "off_s": 240, "until": "16:25"}},
                    _entry("on", "11:00", channels=(2,)),
                    _entry("off", "15:00", channels=(2,)),
                ],
            },
            {
                "from": "10-01",
                "name": "Summer",
                "entries": [
                    _entry("on", "07:10") | {"repeat": {"on_s": 8, "off_s": 240, "until": "16:25"}},
                    _entry("on", "09:00", channels=(2,)),
                    _entry("off", "17:00", channels=(2,)),
                ],
            },
        ],
    ),
    # Far north, for the dates without sunrise and sunset.
    DemoUnit(
        site="Fjord pier",
        latitude=69.6,
        longitude=18.9,
        timezone="Europe/Oslo",
        unit="Pier lamps",
        whereabouts="shed at the landing",
        channels={"Pier lamps": [_window("sunset", "sunrise")]},
        entries=[_entry("on", "sunset"), _entry("off", "sunrise")],
    ),
    DemoUnit(
        site="Ridge park",
        latitude=-39.57,
        longitude=176.88,
        unit="Pitches",
        whereabouts="cabinet behind the clubrooms",
        kind="park-controller-48-stations",
        water=water.SPORTS_GROUND,
    ),
    # At 140 % its second start waits for the first.
    DemoUnit(
        site="Quay terrace",
        latitude=-39.48,
        longitude=176.90,
        unit="Tubs and herbs",
        whereabouts="service cupboard, top shelf",
        kind="garden-controller-eight-stations",
        water=water.TERRACE,
    ),
    DemoUnit(
        site="Cuttings tunnel",
        latitude=-39.61,
        longitude=176.85,
        unit="Bench mist",
        whereabouts="post inside the door",
        kind="park-controller-48-stations",
        water=water.TUNNEL,
    ),
    # Too dry in summer: its run times are last spring's.
    DemoUnit(
        site="Ferry cottage",
        latitude=-39.47,
        longitude=176.87,
        unit="Garden tap",
        whereabouts="tap by the back step",
        kind="tap-timer-two-outlets",
        water=water.TAP,
    ),
    DemoUnit(
        site="Marine verge",
        latitude=-39.50,
        longitude=176.92,
        unit="Verge valve",
        whereabouts="valve box at the crossing",
        kind="light-powered-valve-controller-one-station",
        water=water.VERGE,
    ),
    # Three periods a day, and a store of hot water.
    DemoUnit(
        site="Willow Creek hall",
        latitude=-39.66,
        longitude=176.82,
        unit="Boiler cupboard",
        whereabouts="behind the stage, left door",
        kind="heating-programmer-three-periods",
        channels={
            "Hot water": [_window("05:30", "08:30"), _window("15:00", "18:00")],
            "Heating": [
                _window("06:30", "09:00", "weekdays"),
                _window("16:00", "21:30", "weekdays"),
                _window("08:00", "22:00", "weekends"),
            ],
        },
        entries=[
            _entry("on", "05:30"),
            _entry("off", "08:30"),
            _entry("on", "15:00"),
            _entry("off", "18:00"),
            _entry("on", "06:30", "weekdays", channels=(2,)),
            _entry("off", "09:00", "weekdays", channels=(2,)),
            _entry("on", "16:00", "weekdays", channels=(2,)),
            _entry("off", "21:30", "weekdays", channels=(2,)),
            _entry("on", "08:00", "weekends", channels=(2,)),
            _entry("off", "22:00", "weekends", channels=(2,)),
        ],
        loads={"Hot water": loads.HALL_WATER, "Heating": loads.HALL_HEATING},
    ),
    # A gate and an escape door on a relay timer; the PIN is the one from the factory.
    DemoUnit(
        site="Kowhai depot",
        latitude=-39.48,
        longitude=176.89,
        unit="Gate and side door",
        whereabouts="cabinet inside the roller door",
        kind="yearly-relay-timer",
        channels={
            "Gate": [_window("06:45", "17:30", "weekdays")],
            "Side door": [_window("07:00", "17:00", "weekdays")],
        },
        entries=[
            _entry("on", "06:45", "weekdays"),
            _entry("off", "17:30", "weekdays"),
            _entry("on", "07:00", "weekdays", channels=(2,)),
            _entry("off", "17:00", "weekdays", channels=(2,)),
        ],
        holidays=loads.DEPOT_HOLIDAYS,
        loads={"Gate": loads.GATE, "Side door": loads.ESCAPE_DOOR},
        pin="factory",
    ),
    DemoUnit(
        site="Pinewood path",
        latitude=-39.60,
        longitude=176.90,
        unit="Path lamps",
        whereabouts="post by the bridge",
        kind="panel-switch-one-channel-by-coordinates",
        channels={"Lamps": [_window("sunset", "23:00")]},
        entries=[_entry("on", "sunset"), _entry("off", "23:00")],
        loads={"Lamps": loads.PATH_LAMPS},
    ),
    # Its weekends are not keyed.
    DemoUnit(
        site="Lantern library",
        latitude=-39.64,
        longitude=176.84,
        unit="Reading room",
        whereabouts="inner wall beside the door",
        kind="room-thermostat-four-periods",
        heat=heat.READING_ROOM,
    ),
)


def plan_of(demo: DemoUnit) -> Plan:
    """The plan of a unit of the demo."""
    document = {
        "format": "skavit-plan/1",
        "site": {
            "name": demo.site,
            "latitude": demo.latitude,
            "longitude": demo.longitude,
            "timezone": demo.timezone,
        },
        "unit": {
            "clock": demo.clock,
            "on_return_to_auto": demo.on_return,
            "limits": demo.limits,
            "holidays": demo.holidays,
            "keyings": demo.keyings,
            "entries": demo.entries,
        }
        | ({"pin": demo.pin} if demo.pin else {}),
        "channels": [
            {"name": name, "windows": windows} | ({"load": demo.loads[name]} if name in demo.loads else {})
            for name, windows in demo.channels.items()
        ],
    }
    document |= {name: rows for name, rows in (("water", demo.water), ("heat", demo.heat)) if rows}
    return read_plan(Node(document))


class NamesTaken(UserError):
    """Somebody here has the name of a person or of the crew of the demo."""


def _taken(plan: Plan, _: Plan) -> Plan:
    """The edit that puts a whole plan in."""
    return plan


def load(password: str) -> bool:
    """Put the demo in, once; says whether it did. Raises :class:`NamesTaken`."""
    if Crew.objects.filter(is_demo=True).exists():
        return False
    taken = [*Crew.objects.filter(name=CREW), *User.objects.filter(looks__in=map(looks_of, PEOPLE))]
    if taken:
        raise NamesTaken(f"The demo is not loaded: {taken[0]} is the name of a crew or a person here already.")
    now, hashed = read_now(), make_password(password)
    with transaction.atomic():
        crew = Crew.objects.create(name=CREW, is_demo=True)
        members = {}
        for name, role in PEOPLE.items():
            user = User.objects.create(username=name, password=hashed)
            members[name] = Membership.objects.create(crew=crew, user=user, role=role)
        member = members["kahu"]
        with changes_by(member.user):
            for demo in UNITS:
                place = {"latitude": demo.latitude, "longitude": demo.longitude, "timezone": demo.timezone}
                area = "North bay" if demo.latitude > NORTH_BAY_DEG else "South bay"
                site = save_site(member, None, {"name": demo.site, "area": area, **place})
                kind = next((kind for kind in shipped_kinds() if kind.slug == demo.kind), None)
                unit = create_unit(
                    member, site, name=demo.unit, whereabouts=demo.whereabouts, channels=list(demo.channels), now=now,
                    kind=kind if demo.water or demo.heat else None,
                )  # fmt: skip
                plan = plan_of(demo)
                revisions.edit(unit, member, unit.head_revision.number, partial(_taken, plan), "demo plan", now=now)
                if kind is not None:
                    choose_kind(unit, member, unit.head_revision.number, kind, None, now=now)
    return True
