"""The moment of leaving a unit that holds temperatures: what each zone is held at, and its next set points."""

import numpy as np

from skavit.core.heat.state import zones_now
from skavit.core.heat.targets import targets
from skavit.core.sheet import mode_words
from skavit.core.simulation.handover import look_ahead
from skavit.core.text.wording import Words
from skavit.units.models import Unit
from skavit.units.pages.handover.parts import HandoverRow, Leaving, when_text

NEXT_POINTS = 3  # that are told of each zone


def leaving_zones(unit: Unit, now: int, words: Words) -> Leaving:
    """Each zone at an instant."""
    plan, kind = unit.plan, unit.core_kind
    warmed = targets(look_ahead(plan, now))
    assert warmed is not None
    auto = mode_words(kind, "auto")
    rows = []
    for zone, here in zip(warmed.zones, zones_now(warmed, now), strict=True):
        following = int(np.searchsorted(zone.program.at, now, "right"))
        coming = zip(
            zone.program.at[following : following + NEXT_POINTS].tolist(),
            zone.program.c[following : following + NEXT_POINTS].tolist(),
            strict=True,
        )
        held = float(zone.program.value_at(np.array([now]))[0])
        wants = "" if held == here.wanted_c else (
            f"Its set points have {words.warmth(held)}, and {words.warmth(here.wanted_c)} is wanted: mend the findings before you leave."
        )  # fmt: skip
        rows.append(
            HandoverRow(
                name=here.name,
                state=words.warmth(held),
                leave=auto,
                back=f"If a hand turned it: back to {auto}, and {words.warmth(held)} must stand as the target.",
                differs=wants,
                next=[(when_text(plan, instant, words), "holds", words.warmth(c)) for instant, c in coming],
                prospects=[],
            )
        )
    return Leaving(
        rows=rows,
        test=(
            "Turn the target a few degrees above the room: the relay clicks, and the heat comes.",
            f"Turn it below the room: the relay opens. Then back to {auto}.",
            "The room's own temperature on the display is the one on a thermometer beside it.",
        ),
        warnings=(
            f"Frost protection is at {words.warmth(warmed.heat.frost_c)}; off may protect from nothing.",
            "Stored hot water scalds above 50 °C at the tap, and breeds bacteria below 60 °C in the store: local rules, licensed people.",
        ),
    )
