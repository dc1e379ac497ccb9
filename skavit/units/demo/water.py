"""The watering units of the demo: climate, places and figures are invented."""

from typing import Any

Row = dict[str, Any]

CLIMATE: Row = {
    "et0_mm_day": [5.4, 4.8, 3.7, 2.3, 1.4, 1.0, 1.1, 1.6, 2.5, 3.6, 4.6, 5.2],
    "rain_mm_day": [1.5, 1.8, 2.1, 2.2, 2.4, 2.6, 2.9, 2.3, 1.9, 1.7, 1.7, 1.6],
}
SAND: Row = {"available_mm_m": 80.0, "root_m": 0.15, "depletion": 0.4, "intake_mm_h": 30.0, "surface_mm": 10.2}
CLAY_LOAM: Row = {"available_mm_m": 160.0, "root_m": 0.15, "depletion": 0.4, "intake_mm_h": 7.5, "surface_mm": 6.6}
TUBS: Row = {"available_mm_m": 155.0, "root_m": 0.3, "depletion": 0.3, "intake_mm_h": 15.0, "surface_mm": 7.6}
BED: Row = {"available_mm_m": 155.0, "root_m": 0.4, "depletion": 0.5, "intake_mm_h": 15.0, "surface_mm": 7.6}


def _station(name: str, area: float, rate: float, du: float, crop: float, soil: Row) -> Row:
    flow = round(rate * area / 60, 2)
    given = {"flow_l_min": flow, "area_m2": area, "rate_mm_h": rate, "du": du, "crop": crop, "soil": soil}
    return {"name": name, **given}


def _turf(name: str, area: float, soil: Row) -> Row:
    return _station(name, area, 13.0, 0.7, 0.95, soil)


def _drip(name: str, area: float, crop: float, soil: Row) -> Row:
    return _station(name, area, 12.0, 0.85, crop, soil)


# A sports ground of two soils: sand drains and is watered daily, clay loam in short runs.
SPORTS_GROUND: Row = {
    "stations": [
        _turf("North pitch, goal", 900.0, SAND),
        _turf("North pitch, middle", 1400.0, SAND),
        _turf("South pitch, goal", 900.0, CLAY_LOAM),
        _turf("South pitch, middle", 1400.0, CLAY_LOAM),
    ],
    "programs": [
        {
            "name": "A", "starts": ["04:00"], "runs": [{"station": 1, "run_min": 24}, {"station": 2, "run_min": 24}],
            "monthly_pct": [98, 78, 40, 0, 0, 0, 0, 0, 15, 48, 73, 94],
        },
        {
            "name": "B", "days": {"every": 2, "from": "2026-01-01"}, "starts": ["04:48"],
            "runs": [{"station": 3, "run_min": 48}, {"station": 4, "run_min": 48}],
            "monthly_pct": [99, 77, 39, 0, 0, 0, 0, 0, 14, 47, 74, 93],
        },
    ],
    "master_valve": {"lead_s": 5, "lag_s": 10},
    "allowed": [{"from": "21:00", "to": "07:30", "days": "daily"}],
    "supply_l_min": 320.0,
    "price_m3": 2.4,
    "climate": CLIMATE,
}  # fmt: skip
# A terrace of tubs, where the season was put up for a hot week and the second start now waits for the first.
TERRACE: Row = {
    "stations": [_drip("Tubs, east", 14.0, 0.8, TUBS), _drip("Tubs, west", 14.0, 1.04, TUBS), _drip("Herb bed", 9.0, 0.5, BED)],
    "programs": [
        {
            "name": "A", "starts": ["05:30", "06:15"],
            "runs": [{"station": 1, "run_min": 14}, {"station": 2, "run_min": 18}, {"station": 3, "run_min": 6}],
            "adjust_pct": 140, "monthly_pct": [100, 90, 70, 45, 20, 0, 0, 20, 45, 70, 85, 95],
        },
    ],
    "allowed": [{"from": "05:00", "to": "08:00", "days": "daily"}],
    "price_m3": 3.1,
    "climate": CLIMATE,
}  # fmt: skip
# A tunnel of cuttings under mist: what they need is not a matter of soil.
TUNNEL: Row = {
    "stations": [{"name": "Cuttings, bench 1", "flow_l_min": 11.0}, {"name": "Cuttings, bench 2", "flow_l_min": 11.0}],
    "programs": [
        {
            "name": "A", "starts": ["08:00", "09:30", "11:00", "12:30", "14:00", "15:30"],
            "runs": [{"station": 1, "run_min": 1}, {"station": 2, "run_min": 1}],
        },
    ],
}  # fmt: skip
TAP: Row = {
    "stations": [_turf("Back lawn", 60.0, CLAY_LOAM), _drip("Vegetables", 12.0, 1.05, BED)],
    "programs": [
        {"name": "1", "days": ["mon", "thu"], "starts": ["05:00"], "runs": [{"station": 1, "run_min": 60}]},
        {"name": "2", "days": ["tue", "fri"], "starts": ["05:00"], "runs": [{"station": 2, "run_min": 50}]},
    ],
    "climate": CLIMATE,
}
VERGE: Row = {
    "stations": [_drip("Verge planting", 85.0, 0.5, BED)],
    "programs": [
        {
            "name": "A", "days": {"parity": "odd"}, "starts": ["03:30"], "runs": [{"station": 1, "run_min": 25}],
            "monthly_pct": [100, 90, 50, 0, 0, 0, 0, 0, 0, 40, 70, 100],
        },
    ],
    "climate": CLIMATE,
}  # fmt: skip
