"""The tables. Frequencies are Hz in double precision; deleting is marking; everything hangs on a team."""

from levelmoor.records.base import Base
from levelmoor.records.tables.adjusting import Adjustment, ArticleElement, ChosenComparison, TimeStrip, WidthReading
from levelmoor.records.tables.bench import BenchCheck, Calibration, Driver, Instrument, Owned
from levelmoor.records.tables.evaluation import (
    ArticleSetting,
    Claim,
    Comment,
    Evaluation,
    InHand,
    Picture,
    Product,
    Review,
    Sample,
    Setup,
    Tick,
)
from levelmoor.records.tables.evidence import Capture, Filter, Reading, ReadingSheet, RuleSet, Sweep
from levelmoor.records.tables.field import FieldRecord, ThroughSweep
from levelmoor.records.tables.files import ColumnMapping, PendingFile, RawFile
from levelmoor.records.tables.live import LiveLook, LiveRun, LiveSweep, LiveWish
from levelmoor.records.tables.operating import BackupMade, ServerMinute, Trouble
from levelmoor.records.tables.people import (
    Attempt,
    AuditEntry,
    Invitation,
    KeptAct,
    Lease,
    Mail,
    Membership,
    ResetLink,
    Setting,
    SignIn,
    Team,
    User,
)
from levelmoor.records.tables.publications import Report, ReportRevision
from levelmoor.records.tables.second_steps import OutsideIdentity, RecoveryCode, SecondStep
from levelmoor.records.tables.shelf import Answer, Drawn, KeptResult, ShelfFacet, ShelfLine, ShelfReport
from levelmoor.records.tables.trials import Trial, TunerNetwork

__all__ = [
    "Adjustment",
    "Answer",
    "ArticleElement",
    "ArticleSetting",
    "Attempt",
    "AuditEntry",
    "BackupMade",
    "Base",
    "BenchCheck",
    "Calibration",
    "Capture",
    "ChosenComparison",
    "Claim",
    "ColumnMapping",
    "Comment",
    "Drawn",
    "Driver",
    "Evaluation",
    "FieldRecord",
    "Filter",
    "InHand",
    "Instrument",
    "Invitation",
    "KeptAct",
    "KeptResult",
    "Lease",
    "LiveLook",
    "LiveRun",
    "LiveSweep",
    "LiveWish",
    "Mail",
    "Membership",
    "OutsideIdentity",
    "Owned",
    "PendingFile",
    "Picture",
    "Product",
    "RawFile",
    "Reading",
    "ReadingSheet",
    "RecoveryCode",
    "Report",
    "ReportRevision",
    "ResetLink",
    "Review",
    "RuleSet",
    "Sample",
    "SecondStep",
    "ServerMinute",
    "Setting",
    "Setup",
    "ShelfFacet",
    "ShelfLine",
    "ShelfReport",
    "SignIn",
    "Sweep",
    "Team",
    "ThroughSweep",
    "Tick",
    "TimeStrip",
    "Trial",
    "Trouble",
    "TunerNetwork",
    "User",
    "WidthReading",
]
