"""Take the pictures of docs/screenshots anew from a running ./start: .venv/bin/python scripts/screenshots.py [PORT].

Of a ./start --empty in which nobody has begun yet it takes the one of an empty crew.
"""

import re
import secrets
import sys
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

ROOT = Path(__file__).resolve().parent.parent
FOLDER = ROOT / "docs" / "screenshots"
BASE = f"http://127.0.0.1:{sys.argv[1] if len(sys.argv) > 1 else 8000}"
LAPTOP, PHONE = {"width": 1280, "height": 800}, {"width": 390, "height": 844}


def take(page: Page, name: str) -> None:
    """Save what is seen, once fonts and pictures are there."""
    page.evaluate("document.fonts.ready")
    page.wait_for_timeout(400)
    page.screenshot(path=FOLDER / f"{name}.png")


def slot(page: Page) -> None:
    """Go on to the second slot, or pair, of a sheet."""
    while not page.locator(".step-now.step-slot h2", has_text=re.compile("2")).count():
        page.locator("[data-step-next]").click()


def on_the_laptop(page: Page) -> tuple[str, str]:
    """The views of the laptop; gives the addresses of a unit with a finding and of one with a kind."""
    take(page, "round")
    page.get_by_role("link", name="Path lights").first.click()
    unit = page.url.split("?")[0]
    take(page, "unit")
    page.evaluate("document.documentElement.dataset.theme = 'dusk'")
    page.evaluate("scrollTo(0, 0)")
    page.goto(f"{unit}")
    page.evaluate("document.documentElement.dataset.theme = 'dusk'")
    take(page, "unit-dusk")
    page.goto(f"{BASE}/")
    page.locator(".card-unit", has_text="Wash water").click()
    keyed = page.url.split("?")[0]
    page.goto(f"{keyed}sheet/")
    slot(page)
    take(page, "sheet")
    page.goto(f"{unit}clock/?sunrise=05:31&sunset=19:58")
    take(page, "clock")
    page.goto(f"{unit}trouble/")
    for look, at, state in ((0, "12:00", "on"), (1, "22:00", "off")):
        row = page.locator(".look").nth(look)
        row.get_by_label("Day").select_option(index=1)
        row.get_by_label("At", exact=True).fill(at)
        row.get_by_role("radio", name=state, exact=True).check()
    page.locator(".cause").first.wait_for()
    page.evaluate("scrollTo(0, 0)")
    take(page, "trouble")
    page.goto(f"{keyed}plan-visit/")
    page.get_by_label("Who").select_option(index=1)
    page.get_by_role("button", name="Plan it").click()
    page.goto(f"{BASE}/due/")
    take(page, "due")
    page.goto(f"{keyed}handover/")
    take(page, "handover")
    page.goto(f"{BASE}/kinds/heating-programmer-two-channels/")
    take(page, "kind")
    page.goto(f"{BASE}/")
    page.locator(".card-unit", has_text="Tubs and herbs").click()
    page.locator(".station").first.wait_for()
    take(page, "water")
    page.goto(f"{BASE}/")
    page.locator(".card-unit", has_text="Reading room").click()
    page.locator(".group").first.wait_for()
    take(page, "heat")
    page.goto(f"{BASE}/")
    page.locator(".card-unit", has_text="Path lamps").click()
    page.locator(".load-link").click()
    page.locator(".cable-run").first.wait_for()
    take(page, "load")
    return unit, keyed


def empty(page: Page) -> None:
    """The first page of a crew, of a ./start --empty where nobody has begun yet."""
    page.get_by_label("Crew").fill("Bay lights")
    page.get_by_label("User name").fill("moana")
    page.get_by_label("Password").fill(secrets.token_urlsafe())
    page.get_by_role("button", name="Begin").click()
    page.get_by_text("The first unit").wait_for()
    take(page, "empty")


def in_grey_on_the_phone_and_in_print(page: Page, unit: str, keyed: str) -> None:
    """The rest."""
    page.goto(f"{BASE}/")
    page.locator(".card-unit", has_text="Sign").click()
    page.evaluate("document.documentElement.style.filter = 'grayscale(1)'")
    page.wait_for_timeout(400)
    page.locator(".year-main").screenshot(path=FOLDER / "year-grey.png")
    page.set_viewport_size(PHONE)
    page.goto(f"{BASE}/")
    page.locator(".card-unit", has_text="Pitches").click()
    page.locator(".station").first.wait_for()
    take(page, "water-phone")
    page.goto(f"{unit}visit/")
    take(page, "visit-phone")
    page.goto(unit)
    take(page, "unit-phone")
    page.goto(f"{keyed}sheet/")
    slot(page)
    take(page, "sheet-phone")
    page.goto(f"{unit}sheet/")
    page.set_viewport_size({"width": 794, "height": 1123})
    page.emulate_media(media="print")
    take(page, "sheet-print")


def main() -> None:
    """Log in as the demo's installer and go through the views."""
    password = (ROOT / "var" / "demo_password").read_text().strip()
    with sync_playwright() as play:
        browser = play.chromium.launch(
            executable_path="/usr/bin/chromium-headless-shell", args=["--no-sandbox", "--disable-gpu"]
        )
        page = browser.new_context(viewport=LAPTOP).new_page()
        page.goto(f"{BASE}/login/")
        if page.url.endswith("/begin/"):
            empty(page)
            browser.close()
            return
        page.get_by_label("User name").fill("kahu")
        page.get_by_label("Password").fill(password)
        page.get_by_role("button", name="Log in").click()
        in_grey_on_the_phone_and_in_print(page, *on_the_laptop(page))
        browser.close()


if __name__ == "__main__":
    main()
