"""``python -m benchmarks.load [PORT] [--seconds 60] [--password P]``: many people at once at a running ``./start --demo``.

Readers, editors, writers of notes, photos, logins that fail, and large plans that are opened and edited, each by a thread
of its own. It prints for each what was answered and the slowest answer, and how often ``/health/`` took over a second.
Every note that was acknowledged is looked for at the end, so that the server may be killed and started meanwhile.
"""

import argparse
import http.cookiejar
import io
import json
import re
import threading
import time
import urllib.error
import urllib.parse
import urllib.request
import uuid
from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path
from statistics import median

from PIL import Image

ROOT = Path(__file__).resolve().parent.parent
TIMEOUT_S = 60
LARGE_ENTRIES = 280
OK, WORKING, TOO_MANY = 200, 202, 429
NOTERS, NOTES_A_UNIT = 4, 50


@dataclass
class Tally:
    """What one sort of people was answered."""

    statuses: Counter[int] = field(default_factory=Counter)
    seconds: list[float] = field(default_factory=list)
    lock: threading.Lock = field(default_factory=threading.Lock)

    def add(self, status: int, took: float) -> None:
        """Count an answer; 0 is none."""
        with self.lock:
            self.statuses[status] += 1
            self.seconds.append(took)

    def line(self, what: str) -> str:
        """Tell it."""
        if not self.seconds:
            return f"{what:14} nothing was asked"
        told = ", ".join(f"{status}: {count}" for status, count in sorted(self.statuses.items()))
        return f"{what:14} median {median(self.seconds):6.2f} s, slowest {max(self.seconds):6.2f} s   {told}"


class Person:
    """Somebody with a browser of their own."""

    def __init__(self, base: str, tally: Tally) -> None:
        self.base, self.tally = base, tally
        self.jar = http.cookiejar.CookieJar()
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(self.jar))

    def ask(
        self, path: str, data: dict[str, str] | None = None, file: tuple[str, bytes] | None = None
    ) -> tuple[int, str]:
        """(status, text) of an answer, fetched as often as the server says that it is not there yet; 0 where there was none."""
        body, headers = None, {}
        if data is not None:
            token = next((cookie.value for cookie in self.jar if cookie.name == "csrftoken"), "") or ""
            body, headers = _form(data | {"csrfmiddlewaretoken": token}, file)
        address, (status, text) = self._ask(self.base + path, body, headers)
        while status == WORKING:
            time.sleep(1)
            address, (status, text) = self._ask(address, None, {})
        return status, text

    def _ask(self, address: str, body: bytes | None, headers: dict[str, str]) -> tuple[str, tuple[int, str]]:
        """Where an answer came from in the end, and the answer."""
        request = urllib.request.Request(address, body, headers | {"Accept": "text/html"})
        begun = time.monotonic()
        try:
            with self.opener.open(request, timeout=TIMEOUT_S) as answer:
                address, status, text = answer.url, answer.status, answer.read().decode(errors="replace")
        except urllib.error.HTTPError as error:
            status, text = error.code, error.read().decode(errors="replace")
        except OSError:
            status, text = 0, ""
        self.tally.add(status, time.monotonic() - begun)
        return address, (status, text)

    def log_in(self, name: str, password: str) -> None:
        """Log in, again where others are logging in just then."""
        while True:
            self.ask("/login/")
            status, text = self.ask("/login/", {"username": name, "password": password})
            if status != TOO_MANY and "User name" in text:
                raise SystemExit(f"{name} cannot log in with this password.")
            if status not in (0, TOO_MANY):
                return
            time.sleep(1)


def _form(data: dict[str, str], file: tuple[str, bytes] | None) -> tuple[bytes, dict[str, str]]:
    if file is None:
        return urllib.parse.urlencode(data).encode(), {}
    edge = uuid.uuid4().hex
    parts = [f'--{edge}\r\nContent-Disposition: form-data; name="{k}"\r\n\r\n{v}\r\n'.encode() for k, v in data.items()]
    head = f'--{edge}\r\nContent-Disposition: form-data; name="{file[0]}"; filename="p.png"\r\nContent-Type: image/png\r\n\r\n'
    body = b"".join(parts) + head.encode() + file[1] + f"\r\n--{edge}--\r\n".encode()
    return body, {"Content-Type": f"multipart/form-data; boundary={edge}"}


def large_plan(plan: dict[str, object]) -> str:
    """A plan with as many entries as are accepted, none of which does what another does."""
    entries = [
        {
            "channels": [1],
            "action": "on" if n % 2 == 0 else "off",
            "at": f"{n * 5 // 60:02d}:{n * 5 % 60:02d}",
            "days": days,
        }
        for n, days in ((n, ("daily", "weekdays", ["mon", "wed"])[n % 3]) for n in range(LARGE_ENTRIES))
    ]
    return json.dumps(plan | {"unit": {"entries": entries}})


def photo(pixels: int) -> bytes:
    """A PNG of so many pixels a side."""
    out = io.BytesIO()
    Image.new("RGB", (pixels, pixels), "orange").save(out, "PNG")
    return out.getvalue()


class Load:
    """All of them, at one server."""

    def __init__(self, base: str, password: str, seconds: float) -> None:
        self.base, self.password, self.seconds, self.until = base, password, seconds, 0.0
        self.planners, self.noters, self.lock = 0, 0, threading.Lock()
        self.looker = Person(base, Tally())
        self.looker.log_in("kahu", password)
        self.tallies: dict[str, Tally] = {}
        self.switches: list[int] = []
        self.written: set[str] = set()

    def person(self, what: str, *, logged_in: bool = True) -> Person:
        """One more of a sort."""
        found = Person(self.base, self.tallies.setdefault(what, Tally()))
        if logged_in:
            found.log_in("kahu", self.password)
        return found

    def units(self) -> list[int]:
        """The numbers of the demo's units."""
        text = self.looker.ask("/")[1]
        return sorted({int(number) for number in re.findall(r'href="/units/(\d+)/"', text)})

    def switching(self) -> list[int]:
        """Those of them that switch, and so take :func:`large_plan`."""
        plans = {unit: json.loads(self.looker.ask(f"/units/{unit}/plan.json")[1]) for unit in self.units()}
        return [unit for unit, plan in plans.items() if not plan.get("water") and not plan.get("heat")]

    def goes_on(self) -> bool:
        """Whether the time is not over."""
        return time.monotonic() < self.until

    def reader(self, person: Person, units: list[int]) -> None:
        """Walks the round and the units."""
        turn = 0
        while self.goes_on():
            person.ask("/" if turn % 3 == 0 else f"/units/{units[turn % len(units)]}/")
            turn += 1

    def noter(self, person: Person, units: list[int]) -> None:
        """Writes notes, and keeps those that were acknowledged in mind."""
        with self.lock:
            self.noters += 1
            mine = self.noters - 1
        turn = 0
        while self.goes_on():
            # A record shows the latest notes of its unit: some on each, and none where the photos go.
            unit = units[1 + (mine + NOTERS * (turn // NOTES_A_UNIT)) % (len(units) - 1)]
            turn += 1
            said = uuid.uuid4().hex
            _, text = person.ask(f"/units/{unit}/notes/photos/", {"token": str(uuid.uuid4()), "text": said})
            if said in text:  # the record, to which it leads
                self.written.add(said)

    def photographer(self, person: Person, units: list[int]) -> None:
        """Sends photos, small ones and such as are too large."""
        turn = 0
        small, large = photo(1200), photo(7700)
        while self.goes_on():
            data = {"token": str(uuid.uuid4()), "text": "seen"}
            person.ask(f"/units/{units[0]}/notes/photos/", data, ("photos", large if turn % 4 == 0 else small))
            turn += 1

    def guesser(self, person: Person, _: list[int]) -> None:
        """Tries passwords under changing names."""
        while self.goes_on():
            person.ask("/login/")
            person.ask("/login/", {"username": uuid.uuid4().hex[:8], "password": "wrong"})

    def planner(self, person: Person, units: list[int]) -> None:
        """Opens a large plan and edits it."""
        with self.lock:
            self.planners += 1
            unit = self.switches[-self.planners]
        plan = json.loads(person.ask(f"/units/{unit}/plan.json")[1] or "{}")
        text = person.ask(f"/units/{unit}/")[1]
        revision = (re.search(r'name="revision" value="(\d+)"', text) or ["", "0"])[1]
        person.ask(f"/units/{unit}/import/", {"revision": revision}, ("file", large_plan(plan).encode()))
        while self.goes_on():
            text = person.ask(f"/units/{unit}/")[1]
            revision = (re.search(r'name="revision" value="(\d+)"', text) or ["", "0"])[1]
            person.ask(f"/units/{unit}/rows/entry-0/copy/", {"revision": revision})
            person.ask(f"/units/{unit}/undo/", {"revision": revision})

    def healthy(self, person: Person, _: list[int]) -> None:
        """Asks whether the server lives."""
        while self.goes_on():
            person.ask("/health/")
            time.sleep(0.2)

    def run(self, crowd: list[tuple[str, Callable[[Person, list[int]], None], int]]) -> None:
        """Log all in, begin, and wait for them."""
        units, self.switches = self.units(), self.switching()
        people = [
            (what, self.person(name, logged_in=name not in ("guesses", "/health/")))
            for name, what, many in crowd
            for _ in range(many)
        ]
        for tally in self.tallies.values():
            tally.statuses.clear()
            tally.seconds.clear()
        self.until = time.monotonic() + self.seconds
        threads = [threading.Thread(target=what, args=(person, units)) for what, person in people]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        for what, tally in self.tallies.items():
            print(tally.line(what))
        while self.looker.ask("/health/")[0] != OK:  # killed just now, it comes back
            time.sleep(1)
        shown = "".join(self.looker.ask(f"/units/{unit}/record/")[1] for unit in units)
        found = {said for said in self.written if said in shown}
        print(f"{len(self.written)} notes acknowledged, {len(self.written - found)} of them lost")


def main() -> None:
    """Load a server of this machine."""
    words = argparse.ArgumentParser(description=__doc__)
    words.add_argument("port", type=int, nargs="?", default=8000)
    words.add_argument("--seconds", type=float, default=60)
    words.add_argument("--password", help="of the demo; left out, that of ./start in this checkout")
    words.add_argument("--only", help="one sort of people, such as 'writes notes'")
    given = words.parse_args()
    password = given.password or (ROOT / "var" / "demo_password").read_text().strip()
    load = Load(f"http://127.0.0.1:{given.port}", password, given.seconds)
    crowd = [
        ("reads", load.reader, 4), ("writes notes", load.noter, NOTERS), ("sends photos", load.photographer, 3),
        ("large plans", load.planner, 8), ("guesses", load.guesser, 3), ("/health/", load.healthy, 1),
    ]  # fmt: skip
    load.run([one for one in crowd if given.only in (None, one[0])])


if __name__ == "__main__":
    main()
