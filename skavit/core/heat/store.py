"""A store of hot water: how long it takes to heat, and what it takes up."""

from dataclasses import dataclass

# J a litre and kelvin: the specific heat of water, 4,186 J/(kg K) at 15 degrees (the calorie of 15 degrees, 4.1855 J/(g K):
# CIPM 1950), and a kilogram a litre.
J_L_K = 4_186
J_KWH = 3_600_000


@dataclass(frozen=True, slots=True, kw_only=True)
class Reheat:
    """``minutes`` with the heater on, None where it never gets there; ``kwh`` that the water takes up."""

    minutes: float | None
    kwh: float


def reheat(litres: float, from_c: float, to_c: float, heater_w: float, loss_w: float = 0.0) -> Reheat:
    """What it takes to bring so many litres from one temperature to another, with a constant loss to the cupboard."""
    joules = litres * J_L_K * max(to_c - from_c, 0.0)
    net_w = heater_w - loss_w
    if not joules:
        return Reheat(minutes=0.0, kwh=0.0)
    return Reheat(minutes=joules / net_w / 60 if net_w > 0 else None, kwh=joules / J_KWH)
