"""A run of lamps as it is laid: by the metre from the transformer, with the volts at each lamp."""

from collections.abc import Sequence
from dataclasses import dataclass

from skavit.charts.svg import element, num, text
from skavit.core.plan.load import LampRun

WIDTH, LEFT, RIGHT, TOP, LANE = 640.0, 58.0, 30.0, 40.0, 62.0
NARROW_WIDTH = 358.0
RADIUS = 9.0
LEAST_APART, WORD_PX = 34.0, 28.0
MOST_DRAWN = 120


@dataclass(frozen=True, slots=True)
class _Spot:
    x: float
    y: float
    metres: float


def cable_run(run: LampRun, volts: Sequence[float], band: tuple[float, float] | None, *, narrow: bool = False) -> str:
    """The run as an SVG element; lamps out of their band stand out by form and colour."""
    width = NARROW_WIDTH if narrow else WIDTH
    spots, tree = _spots(run, width)
    lanes = max(spot.y for spot in spots.values())
    parts = []
    for place, length in enumerate(run.cables):
        a, b = spots[length.a], spots[length.b]
        if place in tree:
            path = (
                f"M{num(a.x)} {num(a.y)}L{num(b.x)} {num(b.y)}"
                if a.y == b.y
                else f"M{num(a.x)} {num(a.y)}V{num(b.y)}H{num(b.x)}"
            )
            parts.append(element("path", d=path, class_="run-cable"))
            if b.x - a.x >= WORD_PX:
                parts.append(text(f"{length.m:g} m", (a.x + b.x) / 2, b.y - 14, "axis", "middle"))
        else:
            low = lanes + 34
            path = f"M{num(a.x)} {num(a.y)}C{num(a.x)} {num(low)} {num(b.x)} {num(low)} {num(b.x)} {num(b.y)}"
            parts.append(element("path", d=path, class_="run-cable run-back"))
            parts.append(text(f"{length.m:g} m", (a.x + b.x) / 2, low - 2, "axis", "middle"))
    start = spots[0]
    parts.append(element("rect", x=start.x - 26, y=start.y - 16, width=30, height=32, class_="run-transformer"))
    parts.append(text(f"{run.supply_v:g} V", start.x - 11, start.y + 33, "axis", "middle"))
    for number, (lamp, v) in enumerate(zip(run.lamps, volts, strict=True), start=1):
        spot = spots[number]
        wrong = band is not None and lamp.va > 0 and not band[0] <= v <= band[1]
        if not lamp.va:
            parts.append(element("circle", cx=spot.x, cy=spot.y, r=4, class_="run-joint"))
            continue
        parts.append(
            element("circle", cx=spot.x, cy=spot.y, r=RADIUS, class_="run-lamp run-lamp-dim" if wrong else "run-lamp")
        )
        parts.append(text(str(number), spot.x, spot.y + 4, "run-number", "middle"))
        parts.append(
            text(f"{v:.1f}", spot.x, spot.y + 26, "run-volts run-volts-wrong" if wrong else "run-volts", "middle")
        )
    loops = len(run.cables) - len(tree)
    return element(
        "svg",
        "".join(parts),
        class_=f"cable-run {'stack-narrow' if narrow else 'stack-wide'}",
        viewBox=f"0 0 {num(width)} {num(lanes + (58 if loops else 40))}",
        role="img",
        aria_label=f"The run: {len(run.lamps)} lamps, volts at each",
    )


def _spots(run: LampRun, width: float) -> tuple[dict[int, _Spot], set[int]]:
    """The places of lamps and joints, and the lengths that lead to each first."""
    near: dict[int, list[tuple[int, int]]] = {}
    for place, length in enumerate(run.cables):
        near.setdefault(length.a, []).append((length.b, place))
        near.setdefault(length.b, []).append((length.a, place))
    metres: dict[int, float] = {0: 0.0}
    tree: set[int] = set()
    children: dict[int, list[int]] = {}
    todo = [0]
    while todo:
        here = todo.pop(0)
        for other, place in near.get(here, ()):
            if other not in metres:
                metres[other] = metres[here] + run.cables[place].m
                tree.add(place)
                children.setdefault(here, []).append(other)
                todo.append(other)
    far, deep = max(metres.values()) or 1.0, _depths(children)
    scale = (width - LEFT - RIGHT) / far
    # Where lamps stand too close to each other for their words, they stand at equal steps instead.
    steps = any((metres[b] - metres[a]) * scale < LEAST_APART for a, own in children.items() for b in own)
    step = (width - LEFT - RIGHT) / max(deep.values())
    found: dict[int, _Spot] = {0: _Spot(LEFT, TOP, 0.0)}
    lane = -1
    # Down each branch to its end before the next one begins, which takes a lane of its own.
    todo_spots = [(child, True) for child in reversed(children.get(0, []))]
    lanes: dict[int, int] = {}
    parents = {child: node for node, own in children.items() for child in own}
    while todo_spots:
        node, begins = todo_spots.pop()
        lane += begins
        lanes[node] = lane if begins else lanes[parents[node]]
        x = LEFT + (deep[node] * step if steps else metres[node] * scale)
        found[node] = _Spot(x, TOP + lanes[node] * LANE, metres[node])
        own = children.get(node, [])
        todo_spots += [(child, child != own[0]) for child in reversed(own)]
    return found, tree


def _depths(children: dict[int, list[int]]) -> dict[int, int]:
    """How many lengths lead to each lamp."""
    found, todo = {0: 0}, [0]
    while todo:
        here = todo.pop()
        for child in children.get(here, []):
            found[child] = found[here] + 1
            todo.append(child)
    return found
