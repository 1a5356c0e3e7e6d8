"""What a PDF may fetch: the fonts that come with Levelmoor and figures that it carries itself, and nothing else."""

from pathlib import Path
from typing import Any

from weasyprint.urls import URLFetcher

CARRIED = "data:image/svg+xml;base64,"


class OwnFiles(URLFetcher):  # type: ignore[misc]
    """Serves the files of one folder and data that the page holds; whatever else is asked for is left out."""

    def __init__(self, folder: Path) -> None:
        super().__init__(allowed_protocols=("file", "data"), allow_redirects=False)
        self._allowed = {path.as_uri() for path in folder.iterdir()}

    def fetch(self, url: str, headers: Any = None) -> Any:
        if url not in self._allowed and not url.startswith(CARRIED):
            raise ValueError(f"{url[:80]} is not fetched")
        return super().fetch(url, headers)
