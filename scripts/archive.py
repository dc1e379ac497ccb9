"""The archive of ./backup: a tar of what made it and of the database's dump. Run by ./backup and ./restore.

archive.py write FILE DUMP     put DUMP into a new archive FILE, with the release that made it
archive.py read FILE DUMP      take the dump out of FILE, once it is whole and of no newer release than this one
"""

import hashlib
import io
import json
import os
import re
import sys
import tarfile
import tomllib
from datetime import UTC, datetime
from pathlib import Path

FORMAT = "skavit-backup/1"
ABOUT, DUMP = "about.json", "database.dump"
ROOT = Path(__file__).resolve().parent.parent
PART = 1 << 20


class BadArchive(Exception):
    """The archive cannot be restored by this release; its text says why."""


def release() -> str:
    """This release."""
    found: str = tomllib.loads((ROOT / "pyproject.toml").read_text())["project"]["version"]
    return found


def migrations() -> list[str]:
    """What this release knows of the tables, by the names of its migrations."""
    found = ROOT.glob("skavit/*/migrations/[0-9]*.py")
    return sorted(f"{path.parent.parent.name}.{path.stem}" for path in found)


def replaced() -> set[str]:
    """The names of earlier migrations that those of this release stand for."""
    found = set()
    for path in ROOT.glob("skavit/*/migrations/[0-9]*.py"):
        listed = re.search(r"replaces = \[(.*?)\]", path.read_text(), re.DOTALL)
        found |= {f"{app}.{name}" for app, name in re.findall(r'\("(\w+)", "(\w+)"\)', listed[1] if listed else "")}
    return found


def _sum(file: io.BufferedIOBase) -> str:
    digest = hashlib.sha256()
    while part := file.read(PART):
        digest.update(part)
    return digest.hexdigest()


def write(archive: Path, dump: Path) -> None:
    """Put a dump into an archive; it gets its name only when it is whole."""
    with dump.open("rb") as file:
        checksum = _sum(file)
    about = {
        "format": FORMAT,
        "made": datetime.now(tz=UTC).isoformat(timespec="seconds"),
        "release": release(),
        "migrations": migrations(),
        "bytes": dump.stat().st_size,
        "sha256": checksum,
    }
    text = json.dumps(about, indent=2).encode()
    part = archive.with_name(archive.name + ".part")
    with tarfile.open(part, "x") as tar:
        head = tarfile.TarInfo(ABOUT)
        head.size, head.mode = len(text), 0o600
        tar.addfile(head, io.BytesIO(text))
        tar.add(dump, DUMP, filter=_plain)
    part.chmod(0o600)
    with part.open("rb") as file:
        os.fsync(file.fileno())
    part.rename(archive)


def _plain(info: tarfile.TarInfo) -> tarfile.TarInfo:
    info.uid = info.gid = 0
    info.uname = info.gname = ""
    info.mode = 0o600
    return info


def read(archive: Path, dump: Path) -> None:
    """Take the dump out of an archive. Raises :class:`BadArchive` before anything is written where it is not whole."""
    try:
        with tarfile.open(archive) as tar:
            head, body = tar.extractfile(ABOUT), tar.extractfile(DUMP)
            if head is None or body is None:
                raise BadArchive("it is no backup of Skavit")
            about = json.load(head)
            _check(about)
            if _sum(body) != about["sha256"]:
                raise BadArchive("its database does not have the checksum that was written down: it is damaged")
            body.seek(0)
            with dump.open("xb") as file:
                while part := body.read(PART):
                    file.write(part)
    except FileNotFoundError as error:
        raise BadArchive("there is no such file") from error
    except (tarfile.TarError, EOFError, OSError, KeyError, ValueError, TypeError) as error:
        raise BadArchive("it is no backup of Skavit, or is cut short") from error


def _check(about: dict[str, object]) -> None:
    if about["format"] != FORMAT:
        raise BadArchive(f"its format is {str(about['format'])[:40]!r}; accepted: {FORMAT}")
    known = about["migrations"]
    if not isinstance(known, list):
        raise BadArchive("it is no backup of Skavit, or is cut short")
    told, earlier = set(map(str, known)), replaced()
    if told & earlier and not told >= earlier:
        raise BadArchive(f"a version before release {release()} made it, whose tables this one cannot bring up to date")
    newer = sorted(told - set(migrations()) - earlier)
    if newer:
        raise BadArchive(
            f"release {str(about['release'])[:20]} made it, which is newer than this one, {release()}: "
            f"this one does not know {newer[0]}"
        )


def main(words: list[str]) -> int:
    """Run one of the two; gives the exit status."""
    calls = {"write": write, "read": read}
    if len(words) != 3 or words[0] not in calls:
        print(__doc__, file=sys.stderr)
        return 2
    try:
        calls[words[0]](Path(words[1]), Path(words[2]))
    except BadArchive as error:
        print(f"{words[1]}: {error}. Nothing was touched.", file=sys.stderr)
        return 1
    return 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
