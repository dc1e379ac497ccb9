"""``python -m benchmarks.browser [PORT]``: an edit as the browser sees it, of a running ``./start --demo``.

From the press of the key to the frame in which the redrawn region is painted. What it changes it takes back.
"""

import sys
from pathlib import Path
from statistics import median

from playwright.sync_api import sync_playwright

from benchmarks.ruler import Ruler

ROOT = Path(__file__).resolve().parent.parent
PRESS = """(button) => new Promise((painted) => {
    const start = performance.now();
    const answered = () => requestAnimationFrame(() => requestAnimationFrame(() => painted(performance.now() - start)));
    document.body.addEventListener("htmx:afterSettle", answered, { once: true });
    document.querySelector(button).click();
})"""
SERVED = "performance.getEntriesByType('resource').filter((e) => e.name.endsWith('/copy/')).map((e) => e.duration)"
TIMES = 9
REACH = 15  # 150 ms where A is 10 ms


def main() -> None:
    """Print the figure in ms and in A, and how much of it the server takes."""
    base = f"http://127.0.0.1:{sys.argv[1] if len(sys.argv) > 1 else 8000}"
    ruler = Ruler()
    with sync_playwright() as play:
        browser = play.chromium.launch(executable_path="/usr/bin/chromium", args=["--no-sandbox", "--disable-gpu"])
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(f"{base}/login/")
        page.get_by_label("User name").fill("kahu")
        page.get_by_label("Password").fill((ROOT / "var" / "demo_password").read_text().strip())
        page.get_by_role("button", name="Log in").click()
        page.get_by_role("link", name="Path lights").first.click()
        page.wait_for_url("**/units/*/")
        page.wait_for_load_state("networkidle")
        took = []
        for _ in range(TIMES):
            took.append(page.evaluate(PRESS, "[data-row] [data-copy]"))
            page.evaluate(PRESS, "[data-key=undo]")
        served = page.evaluate(SERVED)
        browser.close()
    ruler.row("an edit as the browser sees it", median(took), REACH)
    ruler.row("  until the answer is there", median(served))


if __name__ == "__main__":
    main()
