"""A store of hot water: how long it takes to heat, and what it takes up."""

from dataclasses import dataclass

# J a litre and kelvin: the specific heat of water, 4,186 J/(kg K) at 15 degrees (the calorie of 15 degrees, 4.1855 J/(g K):
# CIPM 1950), and a kilogram a litre.
J_L_K = 4_186
J_KWH = 3_600_000


@dataclass(frozen=True, slots=True, kw_only=True)
class Reheat:
    """How long a store takes to heat, and the energy for it."""

    minutes: float | None  # with the heater on; None where it never gets there
    kwh: float | None  # that the heater takes from the supply in that time; None where it never gets there
    stored_kwh: float  # that the water takes up


def reheat(litres: float, from_c: float, to_c: float, heater_w: float, loss_w: float = 0.0) -> Reheat:
    """Return what it takes to bring so many litres from one temperature to another, with a constant loss to the cupboard."""
    joules = litres * J_L_K * max(to_c - from_c, 0.0)
    net_w = heater_w - loss_w
    if not joules:
        return Reheat(minutes=0.0, kwh=0.0, stored_kwh=0.0)
    seconds = joules / net_w if net_w > 0 else None
    return Reheat(
        minutes=None if seconds is None else seconds / 60,
        kwh=None if seconds is None else heater_w * seconds / J_KWH,
        stored_kwh=joules / J_KWH,
    )
