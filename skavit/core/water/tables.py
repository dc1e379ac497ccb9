"""Figures of plants, soils, slopes and heads to begin with, where nothing was measured on the ground.

Two schools of plant figures stand side by side. A *crop coefficient* (FAO-56) is that of one plant grown evenly: a
lawn, a vegetable bed. A *landscape coefficient* is for mixed planting, of which nobody has measured one: species
times density times microclimate (Costello and others, A Guide to Estimating Irrigation Water Needs of Landscape Plantings in
California, 2000). All tables are quoted from memory.
"""

from dataclasses import dataclass, replace

from skavit.core.plan.water import Soil, Station
from skavit.core.text.quantities import INCH_MM
from skavit.core.water.rates import INTAKE_MM_H

NEAR = 0.02  # mm an hour: a flow is kept to a hundredth of a litre


@dataclass(frozen=True, slots=True, kw_only=True)
class Plant:
    """What grows: its coefficient, the depth of its roots, and the share of the water that it can use without suffering."""

    name: str
    crop: float
    root_m: float
    depletion: float
    max_gap_days: int  # from one watering to the next; common practice, no source
    school: str = "crop"  # or landscape


# Crop coefficients of mid-season: FAO-56 table 12; depletion: table 22. Roots as gardens have them: common practice, no source.
# Landscape: species factors low 0.2, moderate 0.5, high 0.8 of Costello and others, at average density and exposure.
PLANTS = {
    plant.name: plant
    for plant in (
        Plant(name="lawn, cool-season grass", crop=0.95, root_m=0.20, depletion=0.4, max_gap_days=4),
        Plant(name="lawn, warm-season grass", crop=0.85, root_m=0.25, depletion=0.5, max_gap_days=4),
        Plant(name="sports turf", crop=0.95, root_m=0.15, depletion=0.4, max_gap_days=4),
        Plant(name="vegetables", crop=1.05, root_m=0.30, depletion=0.35, max_gap_days=2),
        Plant(name="fruit trees, bare ground", crop=0.90, root_m=0.80, depletion=0.5, max_gap_days=14),
        Plant(name="shrubs and beds", crop=0.50, root_m=0.40, depletion=0.5, max_gap_days=7, school="landscape"),
        Plant(name="thirsty beds", crop=0.80, root_m=0.30, depletion=0.4, max_gap_days=7, school="landscape"),
        Plant(name="dry-loving planting", crop=0.20, root_m=0.50, depletion=0.6, max_gap_days=10, school="landscape"),
        Plant(name="trees among others", crop=0.50, root_m=0.80, depletion=0.5, max_gap_days=14, school="landscape"),
        Plant(name="tubs and pots", crop=0.80, root_m=0.30, depletion=0.3, max_gap_days=2, school="landscape"),
    )
}
# Under drip lines shrubs and hedges root deep: common practice, no source.
DRIP_GAP_DAYS, DRIPPED = 10, "shrubs and beds"


def max_gap_days(plant: Plant, head: str) -> int:
    """Days from one watering to the next that a plant bears, by what waters it."""
    return DRIP_GAP_DAYS if plant.name == DRIPPED and head.startswith("drip") else plant.max_gap_days


# Density and exposure of the landscape school: low, average, high.
DENSITY = {"sparse": 0.6, "usual": 1.0, "dense": 1.2}
EXPOSURE = {"shaded, sheltered": 0.6, "usual": 1.0, "hot wall, paving, wind": 1.3}

# Available water, mm a metre: the middle of each range of FAO-56 table 19. Intake: see INTAKE_MM_H.
AVAILABLE_MM_M = {"sand": 80.0, "sandy loam": 130.0, "loam": 155.0, "clay loam": 160.0, "clay": 160.0}
# What may stand on the surface before it runs off, mm, by the slope: allowable surface accumulation of the Irrigation
# Association (Landscape Irrigation Scheduling and Water Management, 2005), given there in inches.
SLOPES = ("level, to 3 %", "4 to 6 %", "7 to 12 %", "steeper")
_SURFACE_IN = {
    "sand": (0.40, 0.35, 0.30, 0.25),
    "sandy loam": (0.33, 0.29, 0.24, 0.20),
    "loam": (0.30, 0.25, 0.20, 0.18),
    "clay loam": (0.26, 0.22, 0.18, 0.15),
    "clay": (0.20, 0.15, 0.10, 0.10),
}
SURFACE_MM = {
    ground: {slope: round(depth * INCH_MM, 1) for slope, depth in zip(SLOPES, depths, strict=True)}
    for ground, depths in _SURFACE_IN.items()
}


@dataclass(frozen=True, slots=True, kw_only=True)
class Head:
    """What waters: how fast, and how evenly, where no cans were set out."""

    name: str
    rate_mm_h: float
    du: float
    pressure_kpa: float  # that it usually wants


# Common practice, no source: cans tell it better.
HEADS = {
    head.name: head
    for head in (
        Head(name="sprays", rate_mm_h=38.0, du=0.60, pressure_kpa=200.0),
        Head(name="rotors", rate_mm_h=13.0, du=0.70, pressure_kpa=300.0),
        Head(name="rotating streams", rate_mm_h=11.0, du=0.75, pressure_kpa=275.0),
        Head(name="micro-sprays", rate_mm_h=20.0, du=0.65, pressure_kpa=150.0),
        Head(name="drip lines", rate_mm_h=12.0, du=0.85, pressure_kpa=100.0),
    )
}


def landscape_coefficient(species: float, density: str = "usual", exposure: str = "usual") -> float:
    """Species times density times microclimate, of which the last two are named as in :data:`DENSITY`, :data:`EXPOSURE`."""
    return round(species * DENSITY[density] * EXPOSURE[exposure], 3)


def soil_of(plant: Plant, ground: str, slope: str) -> Soil:
    """A station's soil by the tables."""
    return Soil(
        available_mm_m=AVAILABLE_MM_M[ground],
        root_m=plant.root_m,
        depletion=plant.depletion,
        intake_mm_h=INTAKE_MM_H[ground],
        surface_mm=SURFACE_MM[ground][slope],
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class Told:
    """What of a station's figures the tables say; empty where they are another's."""

    plant: str = ""
    density: str = "usual"
    exposure: str = "usual"
    ground: str = ""
    slope: str = ""
    head: str = ""


def told_by(station: Station) -> Told:
    """Which rows of the tables a station's figures are."""
    head = next((h.name for h in HEADS.values() if _near(h.rate_mm_h, station.rate) and h.du == station.du), "")
    found = Told(head=head)
    soil = station.soil
    if soil is None:
        return found
    for ground, slopes in SURFACE_MM.items():
        if (soil.available_mm_m, soil.intake_mm_h) == (AVAILABLE_MM_M[ground], INTAKE_MM_H[ground]):
            slope = next((slope for slope, mm in slopes.items() if mm == soil.surface_mm), "")
            found = replace(found, ground=ground if slope else "", slope=slope)
    crops = set(station.crop or ())
    for plant in PLANTS.values():
        if (plant.root_m, plant.depletion) != (soil.root_m, soil.depletion):
            continue
        for density, exposure in _corrections(plant):
            if crops == {landscape_coefficient(plant.crop, density, exposure)}:
                return replace(found, plant=plant.name, density=density, exposure=exposure)
    return found


def _near(a: float, b: float | None) -> bool:
    return b is not None and abs(a - b) < NEAR


def _corrections(plant: Plant) -> list[tuple[str, str]]:
    """The densities and exposures that a plant's coefficient is multiplied by; the usual ones first."""
    if plant.school == "crop":
        return [("usual", "usual")]
    pairs = [(density, exposure) for density in DENSITY for exposure in EXPOSURE]
    return sorted(pairs, key=lambda pair: pair != ("usual", "usual"))
