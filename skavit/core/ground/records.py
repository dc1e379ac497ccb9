"""Frozen dataclasses as strict JSON: read, written and described by a JSON Schema, all from their own types.

A field may be text, a whole number, a number, true or false, one of these or None, a tuple of them, another such
dataclass, or a type with a reader of its own (:class:`Own`). Its metadata may give ``choices``, or ``low`` and
``high``. A field with a default may be left out of the JSON, and is where it has its default.
"""

import dataclasses
from collections.abc import Callable
from dataclasses import dataclass
from types import NoneType, UnionType
from typing import Any, TypeVar, Union, get_args, get_origin, get_type_hints

from skavit.core.ground.strict_json import MAX_ITEMS, Node

Schema = dict[str, Any]
MAX_NUMBER = 1_000_000
LONGEST_TEXT = 400
T = TypeVar("T")


@dataclass(frozen=True, slots=True, kw_only=True)
class Own:
    """How a type that is no record is read, written and described."""

    read: Callable[[Node], Any]
    write: Callable[[Any], Any]
    schema: Schema


class Records:
    """Reads, writes and describes records, with the types that have readers of their own."""

    def __init__(self, own: dict[type, Own]) -> None:
        self._own = own

    def read(self, node: Node, record: type[T]) -> T:
        """A record from its JSON; raises :class:`PlanError`."""
        fields = dataclasses.fields(record)  # type: ignore[arg-type]
        hints = get_type_hints(record)
        required = [f.name for f in fields if _required(f)]
        keys = node.object([f.name for f in fields], required=required)
        given = {f.name: self._value(keys[f.name], hints[f.name], f.metadata) for f in fields if f.name in keys}
        return record(**given)

    def write(self, record: Any) -> dict[str, Any]:
        """The JSON of a record, without the keys that have their defaults."""
        found = {}
        for field in dataclasses.fields(record):
            value = getattr(record, field.name)
            if _required(field) or value != _default(field):
                found[field.name] = self._plain(value)
        return found

    def schema(self, record: type) -> Schema:
        """The JSON Schema of a record."""
        hints = get_type_hints(record)
        fields = dataclasses.fields(record)
        return {
            "type": "object",
            "properties": {f.name: self._described(hints[f.name], f.metadata) for f in fields},
            "required": [f.name for f in fields if _required(f)],
            "additionalProperties": False,
        }

    def _value(self, node: Node, hint: Any, metadata: Any) -> Any:
        hint = _without_none(hint)
        if get_origin(hint) is tuple:
            inner = get_args(hint)[0]
            return tuple(self._value(item, inner, metadata) for item in node.items("values"))
        if hint in self._own:
            return self._own[hint].read(node)
        if dataclasses.is_dataclass(hint):
            return self.read(node, hint)  # type: ignore[arg-type]
        return _scalar(node, hint, metadata)

    def _plain(self, value: Any) -> Any:
        if isinstance(value, tuple):
            return [self._plain(item) for item in value]
        if type(value) in self._own:
            return self._own[type(value)].write(value)
        return self.write(value) if dataclasses.is_dataclass(value) else value

    def _described(self, hint: Any, metadata: Any) -> Schema:
        hint = _without_none(hint)
        if get_origin(hint) is tuple:
            return {"type": "array", "items": self._described(get_args(hint)[0], metadata), "maxItems": MAX_ITEMS}
        if hint in self._own:
            return self._own[hint].schema
        if dataclasses.is_dataclass(hint):
            return self.schema(hint)  # type: ignore[arg-type]
        return _scalar_schema(hint, metadata)


def _scalar(node: Node, hint: Any, metadata: Any) -> Any:
    if hint is bool:
        return node.flag()
    if hint in (int, float):
        read = node.integer if hint is int else node.number
        return read(metadata.get("low", 0), metadata.get("high", MAX_NUMBER))
    return node.choice(metadata["choices"]) if "choices" in metadata else node.text(longest=LONGEST_TEXT)


def _scalar_schema(hint: Any, metadata: Any) -> Schema:
    if hint is bool:
        return {"type": "boolean"}
    if hint in (int, float):
        low, high = metadata.get("low", 0), metadata.get("high", MAX_NUMBER)
        return {"type": "integer" if hint is int else "number", "minimum": low, "maximum": high}
    if "choices" in metadata:
        return {"enum": list(metadata["choices"])}
    return {"type": "string", "minLength": 1, "maxLength": LONGEST_TEXT}


def _required(field: "dataclasses.Field[Any]") -> bool:
    return field.default is dataclasses.MISSING and field.default_factory is dataclasses.MISSING


def _default(field: "dataclasses.Field[Any]") -> Any:
    return field.default_factory() if field.default_factory is not dataclasses.MISSING else field.default


def _without_none(hint: Any) -> Any:
    if get_origin(hint) in (Union, UnionType):
        (found,) = (part for part in get_args(hint) if part is not NoneType)
        return found
    return hint
