"""The page of the day as PDF."""

from weasyprint import HTML
from weasyprint.urls import URLFetcher


def printed(page: bytes) -> bytes:
    """An HTML page of ours as PDF; it may fetch nothing."""
    made: bytes = HTML(
        string=page.decode(), url_fetcher=URLFetcher(allowed_protocols=[])
    ).write_pdf()
    return made
