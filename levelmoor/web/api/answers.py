"""What the API answers with. The schemas of its documentation are made from these."""

from datetime import datetime

from pydantic import BaseModel, Field


class ReportItem(BaseModel):
    """A published report as the shelf has it."""

    slug: str = Field(description="what names the report in addresses")
    title: str
    product: str
    product_key: str
    maker: str
    kind: str
    team: str
    revision: int
    published_at: datetime = Field(description="of the latest revision, UTC")
    bands: list[str]
    connectors: list[str]
    verdicts: dict[str, int] = Field(description="how many of each verdict count")
    units: int = Field(description="units that count")
    found: str = Field(description="what was found, in a sentence or two")
    page: str
    bundle: str = Field(description="the evidence with the findings, as a zip file")


class ReportList(BaseModel):
    """One page of the reports that a search finds."""

    count: int = Field(description="of all that were found")
    reports: list[ReportItem]
    next: str | None = Field(description="where the next page is, if there is one")


class ProductItem(BaseModel):
    """A product with how many reports there are of it."""

    key: str
    product: str
    maker: str
    kind: str
    reports: int


class ProductList(BaseModel):
    """Products by their keys, one page."""

    products: list[ProductItem]
    next: str | None


class ClaimItem(BaseModel):
    """A claim of a report in its own words."""

    claim: str
    quantity: str
    limit: float | None = Field(description="in the quantity's own unit")
    bands: list[str]


class Claims(BaseModel):
    """The claims of a report."""

    claims: list[ClaimItem]


class FindingItem(BaseModel):
    """One verdict: a claim in one window of one unit."""

    claim: str
    quantity: str
    limit: float | None
    band: str
    window: str
    unit: str
    serial: str
    counted: bool = Field(description="false of controls and of likely counterfeits")
    verdict: str
    figure: str
    swr: float | None = Field(description="the worst in the window")
    at_hz: float | None
    gamma: float | None = Field(description="the largest magnitude of the reflection coefficient in the window")
    u_gamma: float | None = Field(description="its standard uncertainty")


class Findings(BaseModel):
    """The verdicts of a report's latest revision."""

    findings: list[FindingItem]


class SweepItem(BaseModel):
    """A sweep that a report holds, with where its points are."""

    id: str
    name: str
    unit: str
    setup: str
    instrument: str
    points: int
    low_hz: float
    high_hz: float
    csv: str
    touchstone: str


class Sweeps(BaseModel):
    """The sweeps of reflection in a report's latest revision."""

    sweeps: list[SweepItem]


class FigureItem(BaseModel):
    """A figure of a report, with where it is as a picture and as data."""

    name: str
    claim: str
    window: str
    unit: str
    says: str
    svg: str
    csv: str


class Figures(BaseModel):
    """The figures of a report's latest revision."""

    figures: list[FigureItem]


class Problem(BaseModel):
    """What is wrong with the request."""

    problem: str
