"""The daily summary and the field sheet as PDF."""

from collections.abc import Sequence

from weasyprint import HTML
from weasyprint.urls import URLFetcher


def printed(documents: Sequence[str]) -> bytes:
    """HTML documents of ours, one after the other, as one PDF; they may fetch nothing."""
    fetcher = URLFetcher(allowed_protocols=[])
    laid_out = [HTML(string=text, url_fetcher=fetcher).render() for text in documents]
    pages = [page for document in laid_out for page in document.pages]
    made: bytes = laid_out[0].copy(pages).write_pdf()
    return made
