"""The voltage at each lamp of a cable network.

Resistance of conductors: IEC 60228 at 20 degrees, or the diameters of ASTM B258 with annealed copper; temperature coefficient
of copper at 20 degrees 0.00393 a kelvin (IEC 60028). Kirchhoff's current law at each lamp gives the voltages; a length
counts with both its conductors.
"""

import math
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from skavit.core.ground.arrays import Floats
from skavit.core.ground.errors import UserError
from skavit.core.plan.load import BY_CLASS, Cable, LampRun

COPPER_OHM_M = 1.7241e-8  # annealed copper at 20 degrees (International Annealed Copper Standard, IEC 60028)
COPPER_A_KELVIN = 0.00393
MOST_ITERATIONS = 60
CLOSE_V = 1e-9


@dataclass(frozen=True, slots=True, kw_only=True)
class Volts:
    """``lamps`` volts at each lamp, shape (n,); what the supply gives."""

    lamps: Floats
    supply_a: float
    va: float


def awg_mm(gauge: int) -> float:
    """The diameter of a gauge in mm: 0.005 inch for 36, 0.46 inch for 4/0 (-3), 39 equal steps between (ASTM B258)."""
    return 0.127 * 92 ** ((36 - gauge) / 39)


@lru_cache(maxsize=256)
def ohm_km(cable: Cable, conductor_c: float = 20.0) -> float:
    """The resistance of one conductor, ohm a km, at a temperature."""
    if cable.awg is None:
        assert cable.mm2 is not None
        at_20 = BY_CLASS[cable.conductor][cable.mm2]
    else:
        at_20 = COPPER_OHM_M / (math.pi / 4 * (awg_mm(cable.awg) / 1000) ** 2) * 1000
    return at_20 * (1 + COPPER_A_KELVIN * (conductor_c - 20))


@lru_cache(maxsize=256)
def volts(run: LampRun) -> Volts:
    """The voltage at each lamp, worked out once; raises :class:`UserError` where the cable cannot carry lamps of constant power."""
    count = len(run.lamps)
    ends = np.array([(length.a, length.b) for length in run.cables], dtype=np.int64)
    ohm = [2 * length.m * ohm_km(run.cable_of(length), run.conductor_c) / 1000 for length in run.cables]
    siemens = 1 / np.array(ohm)
    net = np.zeros((count + 1, count + 1))
    a, b = ends.T
    for row, column, sign in ((a, a, 1), (b, b, 1), (a, b, -1), (b, a, -1)):
        np.add.at(net, (row, column), sign * siemens)
    inner, fed = net[1:, 1:], -net[1:, 0] * run.supply_v
    va = np.array([lamp.va for lamp in run.lamps])
    found = (
        _of_constant_power(inner, fed, va, run.supply_v)
        if run.load == "power"
        else np.linalg.solve(inner, fed - va / run.supply_v).astype(np.float64)
    )
    found.flags.writeable = False  # it is handed out again
    supply_a = float(net[0, 0] * run.supply_v + net[0, 1:] @ found)
    return Volts(lamps=found, supply_a=supply_a, va=supply_a * run.supply_v)


def _of_constant_power(inner: Floats, fed: Floats, va: Floats, supply_v: float) -> Floats:
    """Newton's method from the supply's voltage down to the higher of the two solutions, the one that lamps find."""
    found = np.full(va.shape, supply_v)
    for _ in range(MOST_ITERATIONS):
        slope = inner - np.diag(va / found**2)
        try:
            step = np.linalg.solve(slope, inner @ found - fed + va / found)
        except np.linalg.LinAlgError:
            break
        found = found - step
        if not (found > 0).all():
            break
        if np.abs(step).max() < CLOSE_V:
            return found
    raise UserError(
        "lamps: the voltage breaks down, the cable cannot carry lamps of constant power; "
        "accepted: a thicker or shorter cable, or fewer lamps"
    )
