"""The evaluation: one product, its samples, its claims and all evidence, as a tree of plain data."""

from dataclasses import dataclass, field
from enum import StrEnum

from levelmoor.core.metrology.decision import DecisionRule
from levelmoor.core.model.adjusting import Adjustment, Element
from levelmoor.core.model.bench_records import BenchCheck, BenchRule, CalibrationRecord, RawPart
from levelmoor.core.model.captures import Capture
from levelmoor.core.model.chosen_comparisons import Comparison
from levelmoor.core.model.claims import Claim
from levelmoor.core.model.conditions import Conditions
from levelmoor.core.model.connectors import Connector
from levelmoor.core.model.contacts import Contact
from levelmoor.core.model.equipment import Equipment, Instrument
from levelmoor.core.model.networks import Network
from levelmoor.core.model.plan_wishes import PlanWishes
from levelmoor.core.model.product_kinds import ProductKind
from levelmoor.core.model.reading_sheets import ReadingSheet
from levelmoor.core.model.report_sections import ChosenSection
from levelmoor.core.model.rule_sets import RuleSet
from levelmoor.core.model.state import OpenedRound, Role, Setting
from levelmoor.core.model.through import FieldLevel, HeatRun, Through
from levelmoor.core.model.time_strips import TimeStrip
from levelmoor.core.model.trials import Trial
from levelmoor.core.model.usability import DEFAULT_PROFILE, Profile
from levelmoor.core.model.widths import WidthReading
from levelmoor.core.rf.sweep import Sweep
from levelmoor.core.rf.windows import Window


class Obtained(StrEnum):
    """How a sample was obtained; readers want to know whether the reviewer was paid."""

    BOUGHT = "bought"
    LENT = "lent"
    DONATED = "donated"
    MAKER = "maker"
    WON = "won"
    UNSTATED = "unstated"


OBTAINED_WORDS = {
    Obtained.BOUGHT: "bought by the team",
    Obtained.LENT: "lent by its owner",
    Obtained.DONATED: "donated",
    Obtained.MAKER: "sent by the maker",
    Obtained.WON: "won in a prize draw",
    Obtained.UNSTATED: "not stated",
}
_FROM_WHOM = {Obtained.LENT: ", ", Obtained.DONATED: " by "}
"""How the words go on to from whom it came, where that is not `, from`."""


class Calibration(StrEnum):
    """What is said of the calibration behind a sweep that has no record on the bench. `accepted` is `at_plane`, of a
    sweep that counts without a record where the evaluation asks for one."""

    AT_PLANE = "at_plane"
    ACCEPTED = "accepted"
    NONE = "none"
    UNSTATED = "unstated"


CALIBRATION_WORDS = {
    Calibration.AT_PLANE: "done at the reference plane",
    Calibration.ACCEPTED: "done at the plane, accepted without a record",
    Calibration.NONE: "none, or for another span or plane",
    Calibration.UNSTATED: "not stated",
}


class Plane(StrEnum):
    """Where the reflection is referred to."""

    CONNECTOR = "connector"
    SHACK = "shack"


PLANE_WORDS = {
    Plane.CONNECTOR: "the sample's connector",
    Plane.SHACK: "the shack end of the feed line",
}


@dataclass(frozen=True)
class Product:
    name: str
    maker: str = ""
    description: str = ""
    in_the_box: str = ""
    kind: ProductKind = ProductKind.UNSTATED


@dataclass(frozen=True)
class Sample:
    """One unit. `control` is another article measured beside it: it is shown and never counted, as is a sample that is
    suspected to be a counterfeit. `set_aside` is the reason for which nothing is heard of it. `terms` are the
    conditions on which it was had, `ties` what ties the team to its maker, `afterwards` what becomes of it, `rework`
    what was done to it before the test.
    """

    id: str
    label: str
    serial: str = ""
    obtained: Obtained = Obtained.UNSTATED
    note: str = ""
    obtained_from: str = ""
    price: str = ""
    connector: Connector | None = None
    suspicion: str = ""
    control: bool = False
    set_aside: str = ""
    terms: str = ""
    ties: str = ""
    afterwards: str = ""
    rework: str = ""

    @property
    def counted(self) -> bool:
        """Whether its verdicts speak of the model."""
        return not (self.control or self.suspicion or self.set_aside)

    @property
    def disclosure(self) -> str:
        """How it was obtained, from whom kind-wise, and what was paid."""
        said = OBTAINED_WORDS[self.obtained]
        if self.obtained_from:
            said += f"{_FROM_WHOM.get(self.obtained, ', from ')}{self.obtained_from}"
        return f"{said}, for {self.price}" if self.price else said

    @property
    def disclosed(self) -> tuple[str, ...]:
        """On what conditions it was had, the ties to its maker, what becomes of it and what was done to it before, as
        far as they are stated."""
        said = {
            "Conditions": self.terms, "Ties": self.ties, "Afterwards": self.afterwards, "Rework": self.rework,
        }  # fmt: skip
        return tuple(f"{name}: {words}" for name, words in said.items() if words)


@dataclass(frozen=True)
class Setup:
    """How the sample stood when it was measured, what that is to the product, and where the reflection is referred to.

    `line_id` is the feed line between sample and instrument, `planned` whether the plan is to have it swept;
    `conditions` are the facts of how it stood that a comparison tells apart; `set_aside` is the reason for which
    nothing that was swept in it is heard.
    """

    id: str
    name: str
    description: str = ""
    plane: Plane = Plane.CONNECTOR
    tuner_in_line: bool = False
    line_id: str = ""
    planned: bool = True
    conditions: Conditions = field(default_factory=Conditions)
    role: Role = Role.AS_SUPPLIED
    set_aside: str = ""


@dataclass(frozen=True)
class Picture:
    """A photograph, scaled, without its position; of the case, of where a claim stands, or of a setting's mark."""

    sha256: str
    file_name: str
    caption: str = ""
    claim_id: str = ""
    setting_id: str = ""


@dataclass(frozen=True, eq=False)
class Evidence:
    """One sweep with its conditions. `file_name` and `sha256` name the raw file it came from; port, unit, kind
    and columns say how it was read where the file leaves a choice. `segments` are further files joined to it. `raw`
    says that the file is uncorrected and the sweep was corrected with the calibration record's standards. `taken_on`
    is an ISO date, with a time where that is known. `setting_id` is the position of an article that can be adjusted,
    and `round` counts its adjustments there; `not_adjusted` answers that nothing was adjusted though the sweep differs
    from the one before. `set_aside` is the reason for which the sweep is not heard; `mounting` counts how often the
    article was taken down and put up again as before. `dips` are the bands that were said to be a dip's, each with its
    frequency: `40m 7.12; 20m 14.2`.
    """

    id: str
    name: str
    sample_id: str
    setup_id: str
    instrument_id: str
    calibration: Calibration
    sweep: Sweep
    file_name: str = ""
    sha256: str = ""
    taken_on: str = ""
    port: int = 1
    unit: str = ""
    kind: str = ""
    calibration_id: str = ""
    raw: bool = False
    segments: tuple[RawPart, ...] = ()
    columns: str = ""
    setting_id: str = ""
    round: int = 1
    not_adjusted: bool = False
    set_aside: str = ""
    mounting: int = 1
    dips: str = ""


EDITION = 5
"""The edition of the rules of judging; docs/architecture.md says how another is added."""


@dataclass(frozen=True, eq=False)
class Evaluation:
    """The whole case. `calibrations`, `checks` and `equipment` are the bench behind it; `edition` is that of the rules
    it is judged by, so that what was published earlier keeps its findings. `elements` are what of the article is moved,
    `adjustments` the trips to it, `wanted_hz` the frequencies it is adjusted for, `widths` what a notebook
    has of its edges, `strips` minutes of SWR with what was done meanwhile. `networks` are what is inside a tuner,
    `trials` what it matched; `throughs` were swept from port to port, `levels` and `heats` were read in use;
    `contacts` are colour that no verdict reads. `own_bands` are bands and channels of the team's own, `spots` the
    frequencies it asks about. `readings` are
    sheets as they were typed, `opened` the rounds that were opened before anything was measured in them, `comparisons`
    those that the team puts into its report, `sections` what it chose of the other parts of it.
    """

    title: str
    product: Product
    region: int = 1
    rule: DecisionRule = DecisionRule.GUARDED
    profile: Profile = DEFAULT_PROFILE
    samples: tuple[Sample, ...] = ()
    claims: tuple[Claim, ...] = ()
    setups: tuple[Setup, ...] = ()
    instruments: tuple[Instrument, ...] = ()
    sweeps: tuple[Evidence, ...] = ()
    notes: str = ""
    bench_rule: BenchRule = BenchRule.STATED
    age_limit_h: float = 24.0
    calibrations: tuple[CalibrationRecord, ...] = ()
    checks: tuple[BenchCheck, ...] = ()
    equipment: Equipment = field(default_factory=Equipment)
    pictures: tuple[Picture, ...] = ()
    wishes: PlanWishes = field(default_factory=PlanWishes)
    edition: int = EDITION
    captures: tuple[Capture, ...] = ()
    rule_sets: tuple[RuleSet, ...] = ()
    settings: tuple[Setting, ...] = ()
    elements: tuple[Element, ...] = ()
    adjustments: tuple[Adjustment, ...] = ()
    wanted_hz: tuple[float, ...] = ()
    widths: tuple[WidthReading, ...] = ()
    strips: tuple[TimeStrip, ...] = ()
    networks: tuple[Network, ...] = ()
    trials: tuple[Trial, ...] = ()
    throughs: tuple[Through, ...] = ()
    levels: tuple[FieldLevel, ...] = ()
    heats: tuple[HeatRun, ...] = ()
    contacts: tuple[Contact, ...] = ()
    own_bands: tuple[Window, ...] = ()
    spots: tuple[Window, ...] = ()
    readings: tuple[ReadingSheet, ...] = ()
    opened: tuple[OpenedRound, ...] = ()
    comparisons: tuple[Comparison, ...] = ()
    sections: tuple[ChosenSection, ...] = ()

    @property
    def instruments_in_use(self) -> tuple[Instrument, ...]:
        """The instruments that the team still has: what is planned is planned with these."""
        return tuple(i for i in self.instruments if not i.retired)

    @property
    def samples_with_evidence(self) -> frozenset[str]:
        """The ids of the samples of which something was measured, whatever shows it; contacts are no evidence."""
        measured = (self.sweeps, self.captures, self.widths, self.trials, self.throughs, self.levels, self.heats)
        return frozenset(one.sample_id for kind in measured for one in kind)
