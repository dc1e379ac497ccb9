"""Frozen dataclasses as strict JSON: read, written and described by a JSON Schema, all from their own fields.

A field's :class:`Form` says how JSON holds its value. It is given with :func:`member`, together with the key's name
where that is another; a plain field has the form of its type: text, a whole number, a number, true or false, one of
these or None, a tuple of them, or another such dataclass, and its metadata may give ``choices``, or ``low`` and
``high``. A field with a default may be left out of the JSON, and is written where it has another value or ``always``.
"""

import dataclasses
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from types import NoneType, UnionType
from typing import Any, ClassVar, Self, Union, get_args, get_origin, get_type_hints

from skavit.core.ground.strict_json import MAX_ITEMS, Node, ObjectNode

Schema = dict[str, Any]
MAX_NUMBER = 1_000_000
LONGEST_TEXT = 400


@dataclass(frozen=True, slots=True, kw_only=True)
class Form:
    """How JSON holds a value: read from a node (raises :class:`PlanError`), written, described."""

    read: Callable[[Node], Any]
    write: Callable[[Any], Any]
    schema: Callable[[], Schema]

    def named(self, name: str) -> "Form":
        """The same form, described by a reference to ``$defs`` of a schema."""
        return dataclasses.replace(self, schema=lambda: {"$ref": f"#/$defs/{name}"})


def plain(read: Callable[[Node], Any], schema: Schema) -> Form:
    """A form whose value is written as it is."""
    return Form(read=read, write=lambda value: value, schema=lambda: schema)


def whole(low: int, high: int) -> Form:
    """A whole number."""
    return plain(lambda node: node.integer(low, high), {"type": "integer", "minimum": low, "maximum": high})


def number(low: float, high: float) -> Form:
    """A number."""
    return plain(lambda node: node.number(low, high), {"type": "number", "minimum": low, "maximum": high})


def positive(high: float) -> Form:
    """A number above 0."""

    def read(node: Node) -> float:
        return node.number(0, high) or node.refuse(f"a number above 0, up to {high:g}")

    return plain(read, {"type": "number", "exclusiveMinimum": 0, "maximum": high})


def flag() -> Form:
    """True or false."""
    return plain(Node.flag, {"type": "boolean"})


def text(what: str = "text", longest: int = LONGEST_TEXT) -> Form:
    """Text that is not blank."""
    schema = {"type": "string", "minLength": 1, "maxLength": longest}
    return plain(lambda node: node.text(what, longest=longest), schema)


def word(words: Iterable[str]) -> Form:
    """One of some words."""
    known = tuple(words)
    return plain(lambda node: node.choice(known), {"enum": list(known)})


def pattern(read: Callable[[Node], Any], write: Callable[[Any], str], expression: str) -> Form:
    """Text of a regular expression, with a reader and a writer of its own."""
    return Form(read=read, write=write, schema=lambda: {"type": "string", "pattern": expression})


def meaning(words: Mapping[str, Any]) -> Form:
    """One of some words, each of which stands for a value."""
    said = {value: name for name, value in words.items()}
    return Form(
        read=lambda node: words[node.choice(words)], write=said.__getitem__, schema=lambda: {"enum": list(words)}
    )


def listed(item: Form, what: str = "values", *, least: int = 0, once: bool = False) -> Form:
    """A tuple of values, ``least`` of them or more; ``once``: the schema asks for each but once."""

    def schema() -> Schema:
        found = {"type": "array", "items": item.schema(), "minItems": least, "maxItems": MAX_ITEMS}
        return found | ({"uniqueItems": True} if once else {})

    return Form(
        read=lambda node: tuple(item.read(each) for each in node.items(what, least=least)),
        write=lambda values: [item.write(each) for each in values],
        schema=schema,
    )


def record(of: "type[Record]") -> Form:
    """Another record."""
    return Form(read=of.read, write=lambda value: value.to_json(), schema=of.schema)


def member(form: Form, *, name: str = "", always: bool = False, **given: Any) -> Any:
    """A field with its form; ``given`` is a default or a default_factory.

    ``always``: written where it has its default too.
    """
    return dataclasses.field(metadata={"form": form, "name": name, "always": always}, **given)


def no_key(**given: Any) -> Any:
    """A field that the record reads and writes by itself; ``given`` as with :func:`member`."""
    return dataclasses.field(metadata={"no_key": True}, **given)


@dataclass(frozen=True, slots=True, kw_only=True)
class _Key:
    """A key of a record: the field that it fills, and its name and form in JSON."""

    field: "dataclasses.Field[Any]"
    name: str
    form: Form

    @property
    def required(self) -> bool:
        """Whether it may not be left out."""
        return self.field.default is dataclasses.MISSING and self.field.default_factory is dataclasses.MISSING

    def is_written(self, value: Any) -> bool:
        """Whether a record of that value has the key."""
        if self.required or self.field.metadata.get("always"):
            return True
        factory = self.field.default_factory
        return bool(value != (self.field.default if factory is dataclasses.MISSING else factory()))


class Record:
    """A dataclass that JSON holds as an object."""

    __slots__ = ()
    schema_rules: ClassVar[Schema] = {}  # what its schema says beside its keys

    @classmethod
    def judged(cls, keys: ObjectNode, given: dict[str, Any]) -> dict[str, Any]:
        """The values read, with what follows from them; raises :class:`PlanError` for what they may not say together."""
        return given

    @classmethod
    def read(cls, node: Node) -> Self:
        """A record from its JSON; raises :class:`PlanError` at the first thing that is wrong."""
        known = keys_of(cls)
        keys = node.object([key.name for key in known], required=[key.name for key in known if key.required])
        given = {key.field.name: key.form.read(keys[key.name]) for key in known if key.name in keys}
        return cls(**cls.judged(keys, given))

    def to_json(self) -> dict[str, Any]:
        """The form of the file, without the keys that are left out where they have their defaults."""
        return written(self)

    @classmethod
    def schema(cls) -> Schema:
        """The JSON Schema of a record."""
        known = keys_of(cls)
        found: Schema = {"type": "object", "properties": {key.name: key.form.schema() for key in known}}
        required = [key.name for key in known if key.required]
        return found | {"additionalProperties": False} | ({"required": required} if required else {}) | cls.schema_rules


def written(of: Record) -> dict[str, Any]:
    """The JSON of a record by its fields alone."""
    found = ((key, getattr(of, key.field.name)) for key in keys_of(type(of)))
    return {key.name: key.form.write(value) for key, value in found if key.is_written(value)}


_known: dict[type, tuple[_Key, ...]] = {}


def keys_of(of: type[Record]) -> tuple[_Key, ...]:
    """The keys of a record, in the order of its fields."""
    if of not in _known:
        hints = get_type_hints(of)
        _known[of] = tuple(
            _Key(
                field=field,
                name=field.metadata.get("name") or field.name,
                form=field.metadata.get("form") or _form_of(hints[field.name], field.metadata),
            )
            for field in dataclasses.fields(of)  # type: ignore[arg-type]
            if "no_key" not in field.metadata
        )
    return _known[of]


def _form_of(hint: Any, metadata: Mapping[str, Any]) -> Form:
    """The form of a plain field, by its type."""
    if get_origin(hint) in (Union, UnionType):
        (hint,) = (part for part in get_args(hint) if part is not NoneType)
    if get_origin(hint) is tuple:
        return listed(_form_of(get_args(hint)[0], metadata))
    if isinstance(hint, type) and issubclass(hint, Record):
        return record(hint)
    if hint is bool:
        return flag()
    if hint in (int, float):
        return (whole if hint is int else number)(metadata.get("low", 0), metadata.get("high", MAX_NUMBER))
    return word(metadata["choices"]) if "choices" in metadata else text()
