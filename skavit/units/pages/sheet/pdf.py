"""A page as a PDF. Nothing is fetched for it but the fonts that ship with the application."""

from typing import Any

from weasyprint import CSS, HTML
from weasyprint.text.fonts import FontConfiguration
from weasyprint.urls import FatalURLFetchingError, URLFetcher

from skavit.settings import BASE_DIR

STATIC = BASE_DIR / "skavit" / "static"
FONTS = STATIC / "vendor" / "b612"
STYLE = STATIC / "paper.css"


class _Closed(URLFetcher):
    """Fetches the fonts that ship; anything else ends the page."""

    def fetch(self, url: str, headers: Any = None) -> Any:
        """A font's file."""
        if not url.startswith(f"{FONTS.as_uri()}/"):
            raise FatalURLFetchingError(f"not fetched: {url[:60]}")
        return super().fetch(url, headers)


def pdf_of(page: str) -> bytes:
    """The PDF of an HTML page, with the style of the printed sheet.

    Raises :class:`FatalURLFetchingError` where the page asks for anything from outside.
    """
    fonts, fetcher = FontConfiguration(), _Closed(allowed_protocols=("file",))
    style = CSS(string=STYLE.read_text(), base_url=STATIC.as_uri() + "/", font_config=fonts, url_fetcher=fetcher)
    found: bytes = HTML(string=page, url_fetcher=fetcher).write_pdf(stylesheets=[style], font_config=fonts)
    return found
