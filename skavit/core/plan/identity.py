"""The names by which parts of a plan are known."""

from skavit.core.ground.records import text

IDENTITY = text("a short text", 64)
NAME = text("a name", 200)
