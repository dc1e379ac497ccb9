"""The map of the house in CONTRIBUTING.md, made from the import contracts and the first lines of packages and modules.

``python -m skavit.tests.house_map`` writes it.
"""

import ast
import re
import tomllib
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]
PAGE = ROOT / "CONTRIBUTING.md"
BEGIN, END = "<!-- the map, made by skavit/tests/house_map.py -->", "<!-- end of the map -->"


def _floors(container):
    """The rooms of a container from the lowest floor up, as its contract has them."""
    contracts = tomllib.loads((ROOT / "pyproject.toml").read_text())["tool"]["importlinter"]["contracts"]
    layers = next(each["layers"] for each in contracts if each.get("containers") == [container])
    return [name.strip() for layer in reversed(layers) for name in layer.split("|")]


def _says(path):
    """The first line of a package or a module, without its full stop; empty where there is no such thing."""
    file = path / "__init__.py" if path.is_dir() else path.with_suffix(".py")
    text = ast.get_docstring(ast.parse(file.read_text())) if file.exists() else None
    return (text or "").split("\n")[0].rstrip(".")


def _row(folder, name):
    path = folder / name
    return f"| `{name}{'/' if path.is_dir() else '.py'}` | {_says(path)} |"


def house_map():
    """Both tables, from the ground up."""
    core, skavit = ROOT / "skavit" / "core", ROOT / "skavit"
    head = "| room | what one comes for |\n|---|---|"
    inside = [_row(core, name) for name in _floors("skavit.core") if name != "__main__"]
    outside = [_row(skavit, name) for name in _floors("skavit") if name not in ("core", "urls", "wsgi", "settings")]
    first = "The core, `skavit/core`: no Django, no interface. From the ground up:"
    second = "The application, `skavit`, on top of it, from the ground up:"
    return "\n".join([first, "", head, *inside, "", second, "", head, *outside])


def shown():
    """What stands in CONTRIBUTING.md now."""
    found = re.search(f"{re.escape(BEGIN)}\n(.*?)\n{re.escape(END)}", PAGE.read_text(), re.DOTALL)
    return found[1] if found else ""


if __name__ == "__main__":
    text = PAGE.read_text()
    PAGE.write_text(text.replace(f"{BEGIN}\n{shown()}\n{END}", f"{BEGIN}\n{house_map()}\n{END}"))
