"""Temperatures as a crew types them."""

from skavit.core.ground.errors import PlanError, UserError
from skavit.core.plan.heat import COLDEST_C, WARMEST_C
from skavit.core.text.quantities import TEMPERATURE
from skavit.core.text.wording import Words

HUNDREDTH = 2


def degrees_typed(text: str, words: Words) -> float:
    """Degrees Celsius from what was typed, with or without a unit. Raises :class:`PlanError`."""
    accepted = f"{words.warmth(COLDEST_C)} to {words.warmth(WARMEST_C)}, such as {words.warmth(20)}"
    try:
        found = round(TEMPERATURE.read(text.replace("°", ""), us=words.us_units), HUNDREDTH)
    except UserError as error:
        raise PlanError("c", f"{text!r} is no temperature", accepted) from error
    if not COLDEST_C <= found <= WARMEST_C:
        raise PlanError("c", f"{words.warmth(found)} is out of range", accepted)
    return found
