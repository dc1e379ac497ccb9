"""What brings every lamp within its band: another tap, another layout, thicker cable; the least copper first.

Copper stands for the price: what costs none is done first. Each way is proven by working out the volts.
"""

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace

from skavit.core.ground.errors import UserError
from skavit.core.load.cable import awg_mm, volts
from skavit.core.plan.load import BY_CLASS, Cable, LampRun, Length, Load

KG_M_MM2 = 8.96e-3  # copper, a conductor: 8.96 g/cm3 at 20 degrees (CRC Handbook of Chemistry and Physics)
MOST_LAMPS = 120
MOST_WAYS = 4
SIZES_UP = 4


@dataclass(frozen=True, slots=True, kw_only=True)
class Mend:
    """One way: in words, the run after it, and the copper that it adds."""

    text: str
    run: LampRun
    copper_kg: float
    lowest_v: float
    highest_v: float


def in_band(run: LampRun, band: tuple[float, float]) -> tuple[float, float] | None:
    """The lowest and the highest volts at lamps where all lie within a band; None where one does not."""
    lit = _volts_of_lamps(run)
    if lit is None or not lit or min(lit) < band[0] or max(lit) > band[1]:
        return None
    return min(lit), max(lit)


def _volts_of_lamps(run: LampRun) -> list[float] | None:
    """Volts at what lights: joints are none. None where the cable cannot carry them."""
    try:
        found = volts(run).lamps.tolist()
    except UserError:
        return None
    return [v for v, lamp in zip(found, run.lamps, strict=True) if lamp.va]


def copper_kg(run: LampRun) -> float:
    """The copper in a run, both conductors."""
    return sum(2 * length.m * area_mm2(run.cable_of(length)) * KG_M_MM2 for length in run.cables)


def area_mm2(cable: Cable) -> float:
    """The cross-section of a conductor."""
    return cable.mm2 if cable.mm2 is not None else math.pi / 4 * awg_mm(cable.awg or 0) ** 2


def load_remedies(load: Load) -> tuple[Mend, ...]:
    """The ways that bring every lamp of a load within its band, the least copper first; none where it has no band."""
    run, band = load.run, load.band
    if run is None or band is None or len(run.lamps) > MOST_LAMPS:
        return ()
    before = copper_kg(run)
    found: list[Mend] = []
    for text, changed in _layouts(run):
        for tap in (run.supply_v, *sorted(set(load.taps_v) - {run.supply_v})):
            tried = replace(changed, supply_v=tap)
            reach = in_band(tried, band)
            if reach is None:
                continue
            told = [f"the {tap:g} V tap"] if tap != run.supply_v else []
            told += [text] if text else []
            if told:
                copper = copper_kg(tried) - before
                found.append(
                    Mend(text=", ".join(told), run=tried, copper_kg=copper, lowest_v=reach[0], highest_v=reach[1])
                )
            break
    return tuple(sorted(found, key=lambda remedy: (round(remedy.copper_kg, 6), remedy.text.count(",")))[:MOST_WAYS])


def _layouts(run: LampRun) -> Iterator[tuple[str, LampRun]]:
    """The run as it is; closed to a loop; fed in its middle; with thicker cable on the first length, half, or all of it."""
    yield "", run
    way = _ways(run)
    far = max(way, key=lambda lamp: way[lamp][0])
    if not _is_loop(run):
        metres = way[far][0]
        yield f"a loop: back from lamp {far} to the transformer, {metres:g} m", _with(run, Length(a=far, b=0, m=metres))
        middle = way[far][1][len(way[far][1]) // 2]
        if middle != far and way[middle][0] > 0 and len(way[far][1]) > 2:
            metres = way[middle][0]
            yield f"fed in the middle too: {metres:g} m to lamp {middle}", _with(run, Length(a=0, b=middle, m=metres))
    order = sorted(
        range(len(run.cables)),
        key=lambda n: min(way.get(end, (0.0, []))[0] for end in (run.cables[n].a, run.cables[n].b)),
    )
    for count in dict.fromkeys((1, (len(order) + 1) // 2, len(order))):
        for up in range(1, SIZES_UP + 1):
            thicker = _thicker(run, order[:count], up)
            if thicker is None:
                break
            changed, cable, metres = thicker
            part = "all of it" if count == len(order) else f"the first {metres:g} m"
            yield f"{cable} for {part}", changed


def _with(run: LampRun, length: Length) -> LampRun:
    return replace(run, cables=(*run.cables, length))


def _is_loop(run: LampRun) -> bool:
    return len(run.cables) > len(run.lamps)


def _ways(run: LampRun) -> dict[int, tuple[float, list[int]]]:
    """The shortest way from the transformer to each lamp: metres, and the lamps on it."""
    found: dict[int, tuple[float, list[int]]] = {0: (0.0, [])}
    changed = True
    while changed:
        changed = False
        for length in run.cables:
            for a, b in ((length.a, length.b), (length.b, length.a)):
                if a in found and (b not in found or found[a][0] + length.m < found[b][0] - 1e-9):
                    found[b] = found[a][0] + length.m, [*found[a][1], b]
                    changed = True
    del found[0]
    return found


def _thicker(run: LampRun, places: list[int], up: int) -> tuple[LampRun, Cable, float] | None:
    """Some lengths so many sizes up; None where the table has no such size."""
    cables = list(run.cables)
    bigger = None
    for place in places:
        bigger = size_up(run.cable_of(cables[place]), up)
        if bigger is None:
            return None
        cables[place] = replace(cables[place], cable=bigger)
    assert bigger is not None
    return replace(run, cables=tuple(cables)), bigger, sum(cables[place].m for place in places)


def size_up(cable: Cable, up: int) -> Cable | None:
    """The cable so many sizes thicker: two gauges are a size."""
    if cable.awg is not None:
        gauge = cable.awg - 2 * up
        return replace(cable, awg=gauge) if gauge >= -3 else None
    sizes = sorted(BY_CLASS[cable.conductor])
    place = sizes.index(cable.mm2 or sizes[0]) + up
    return replace(cable, mm2=sizes[place]) if place < len(sizes) else None
