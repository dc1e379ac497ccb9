"""Results as JSON for the command line, and the JSON Schema of the plan file."""

from skavit.core.formats.results import (
    audit_json,
    causes_json,
    et0_json,
    fit_json,
    handover_json,
    heat_fit_json,
    iso,
    reading_json,
    repair_json,
    replay_text,
    season_json,
    seasons_json,
    water_fit_json,
    water_years_json,
)
from skavit.core.formats.schema import kind_schema, plan_schema
from skavit.core.formats.sheets import played_json, sheet_json

__all__ = [
    "audit_json",
    "causes_json",
    "et0_json",
    "fit_json",
    "handover_json",
    "heat_fit_json",
    "iso",
    "kind_schema",
    "plan_schema",
    "played_json",
    "reading_json",
    "repair_json",
    "replay_text",
    "season_json",
    "seasons_json",
    "sheet_json",
    "water_fit_json",
    "water_years_json",
]
