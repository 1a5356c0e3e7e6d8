"""How a report is cited: in a sentence, as BibTeX, and as data of the schema.org vocabulary."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from levelmoor.core.shelf.folding import key_of

_BIBTEX_SIGNS = {
    "\\": r"\textbackslash{}",
    "{": r"\{",
    "}": r"\}",
    "%": r"\%",
    "&": r"\&",
    "_": r"\_",
    "#": r"\#",
    "$": r"\$",
}


@dataclass(frozen=True)
class Citation:
    """What a citation names. `published_on` is an ISO date, `digest` the SHA-256 of the bundle."""

    title: str
    team: str
    revision: int
    published_on: str
    address: str
    digest: str

    @property
    def text(self) -> str:
        """One sentence for a list of references."""
        return (
            f"{self.team}: {self.title}. Test report, revision {self.revision}, {self.published_on}. {self.address} "
            f"(bundle SHA-256 {self.digest[:16]}…)"
        )

    @property
    def bibtex(self) -> str:
        """The same as a BibTeX entry."""
        fields = {
            "title": self.title,
            "author": f"{{{_bibtex(self.team)}}}",
            "institution": self.team,
            "type": "Test report",
            "number": f"revision {self.revision}",
            "year": self.published_on[:4],
            "month": str(int(self.published_on[5:7])) if len(self.published_on) >= 7 else "",
            "url": self.address,
            "note": f"Bundle SHA-256 {self.digest}",
        }
        lines = [
            f"  {name} = {{{value if name in ('author', 'url') else _bibtex(value)}}}"
            for name, value in fields.items()
            if value
        ]
        name, body = key_of(self.team, self.title, str(self.revision)), ",\n".join(lines)
        return f"@techreport{{{name},\n{body}\n}}\n"


def _bibtex(text: str) -> str:
    return "".join(_BIBTEX_SIGNS.get(c, c) for c in text)


def schema_org(citation: Citation, product: str, maker: str, found: str) -> Mapping[str, Any]:
    """The report as a `Report` about a `Product` of schema.org; no rating, since a verdict is none."""
    about: dict[str, Any] = {"@type": "Product", "name": product}
    if maker:
        about["manufacturer"] = {"@type": "Organization", "name": maker}
    return {
        "@context": "https://schema.org",
        "@type": "Report",
        "name": citation.title,
        "abstract": found,
        "about": about,
        "publisher": {"@type": "Organization", "name": citation.team},
        "datePublished": citation.published_on,
        "version": str(citation.revision),
        "url": citation.address,
    }
