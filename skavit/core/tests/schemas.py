"""The JSON Schemas of the plan file and of a kind, each made into a validator once: making one takes a tenth of a second."""

import json

from jsonschema import Draft202012Validator

from skavit.core.formats.schema import kind_schema, plan_schema

PLAN, KIND = (Draft202012Validator(json.loads(json.dumps(schema))) for schema in (plan_schema(), kind_schema()))
