"""A room of one temperature that loses heat to the outside and is heated with one heater: the first-order model.

C dT/dt = P - H (T - To), with the heat capacity C in Wh/K, the loss H in W/K, the heater P in W. Its solution is an exponential
approach to To + P / H (the lumped-capacitance method of any textbook of heat transfer; also the simple hourly model of
ISO 52016-1 with one node).
"""

import math

from skavit.core.plan.heat import Room


def warm_up_min(room: Room, outside_c: float, from_c: float, to_c: float) -> float | None:
    """Minutes with the heater on all the time until the room is at ``to_c``; None where it never gets there."""
    if from_c >= to_c:
        return 0.0
    if not room.loss_w_k:
        return 60 * room.capacity_wh_k * (to_c - from_c) / room.heater_w if room.heater_w else None
    settles_c = outside_c + room.heater_w / room.loss_w_k
    if settles_c <= to_c:
        return None
    return 60 * room.capacity_wh_k / room.loss_w_k * math.log((settles_c - from_c) / (settles_c - to_c))


def cooled_c(room: Room, outside_c: float, from_c: float, minutes: float) -> float:
    """The temperature after so many minutes without heat."""
    return outside_c + (from_c - outside_c) * math.exp(-minutes / 60 * room.loss_w_k / room.capacity_wh_k)
