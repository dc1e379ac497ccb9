"""How a load hangs on a contact, terminal by terminal: with the relay off and on."""

from dataclasses import dataclass

from skavit.charts.svg import element, text

WIDTH, HEIGHT = 440.0, 176.0
TOP, BOTTOM = 34.0, 146.0  # the supply's two lines
UNIT = (118.0, 56.0, 136.0, 74.0)  # x, y, width, height
LOAD = (318.0, 62.0, 104.0, 62.0)
COMMON_Y, OPENS_Y, CLOSES_Y = 92.0, 74.0, 112.0
ARM_FROM, ARM_TO = 158.0, 214.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Wiring:
    """What is drawn."""

    common: str  # the unit's words for its terminals
    opens: str
    closes: str  # empty where it has none
    wired: str  # open or closed: on which contact the load hangs
    load: str
    supply: tuple[str, str]  # what is at the two lines
    dry: bool  # else the unit's own supply is at the common


def wiring(of: Wiring, *, relay_on: bool, does: str) -> str:
    """The picture of one state as an SVG element; ``does`` is what the load does in it."""
    x, y, wide, high = UNIT
    at_open = of.wired == "open"
    terminal_y = OPENS_Y if at_open else CLOSES_Y
    flows = relay_on == at_open
    live = "wire wire-live" if flows else "wire"
    lx, ly, lw, lh = LOAD
    right = x + wide
    parts = [
        element("rect", x=x, y=y, width=wide, height=high, class_="wiring-box"),
        text("relay on" if relay_on else "relay off", x + wide / 2, y - 7, "wiring-state", "middle"),
        _terminal(of.common, x, COMMON_Y, "end"),
        _terminal(of.opens, right, OPENS_Y, "start"),
    ]
    if of.closes:
        parts.append(_terminal(of.closes, right, CLOSES_Y, "start"))
    arm_y = OPENS_Y if relay_on else CLOSES_Y
    if not of.closes and not relay_on:
        arm_y = COMMON_Y + 8
    parts += [
        element("path", d=f"M{x} {COMMON_Y}H{ARM_FROM}", class_=live),
        element("path", d=f"M{ARM_TO} {OPENS_Y}H{right}", class_=live if at_open else "wire"),
        element("path", d=f"M{ARM_TO} {CLOSES_Y}H{right}", class_=live if not at_open else "wire") if of.closes else "",
        element(
            "path",
            d=f"M{ARM_FROM} {COMMON_Y}L{ARM_TO} {arm_y}",
            class_=f"{live} wiring-arm" if flows else "wire wiring-arm",
        ),
        element("circle", cx=ARM_FROM, cy=COMMON_Y, r=4, class_="wiring-dot"),
        element("path", d=f"M20 {TOP}H40V{COMMON_Y}H{x}", class_="wire wire-live"),
        element("path", d=f"M{right} {terminal_y}H{lx}", class_=live),
        element("path", d=f"M{lx + lw / 2} {ly + lh}V{BOTTOM}H20", class_=live),
        element(
            "rect", x=lx, y=ly, width=lw, height=lh, class_="wiring-load wiring-load-on" if flows else "wiring-load"
        ),
        *_lines(of.load, lx + lw / 2, ly + lh / 2),
        text(of.supply[0], 20, TOP - 6, "wiring-word"),
        text(of.supply[1], 20, BOTTOM + 17, "wiring-word"),
        text(does, lx + lw, BOTTOM + 17, "wiring-does", "end"),
    ]
    return element(
        "svg",
        "".join(parts),
        class_="wiring",
        viewBox=f"0 0 {WIDTH} {HEIGHT}",
        role="img",
        aria_label=f"{'Relay on' if relay_on else 'Relay off'}: {does}. Wired to {of.opens if at_open else of.closes}.",
    )


def _terminal(name: str, x: float, y: float, side: str) -> str:
    """A screw with its word."""
    away = -8 if side == "end" else 8
    return element("circle", cx=x, cy=y, r=5, class_="wiring-terminal") + text(
        name, x + away, y - 6, "wiring-word", side
    )


def _lines(name: str, x: float, y: float) -> list[str]:
    """A load's name in at most two lines."""
    words, rows = name.split(), [""]
    for word in words:
        if len(rows[-1]) + len(word) > 12 and rows[-1] and len(rows) == 1:
            rows.append("")
        rows[-1] = f"{rows[-1]} {word}".strip()
    first = y + 5 - (len(rows) - 1) * 9
    return [text(row, x, first + n * 18, "wiring-word", "middle") for n, row in enumerate(rows)]
