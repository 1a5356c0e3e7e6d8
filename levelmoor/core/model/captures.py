"""Captures: spectra of a keyed radio, with the path that they came by."""

from dataclasses import dataclass, replace

from levelmoor.core.rf.curve import Curve
from levelmoor.core.rf.trace import Trace


@dataclass(frozen=True, eq=False)
class Capture:
    """One spectrum of one unit on one carrier. `trace` is as indicated, in dBm; a peak list is one too.

    `pad_ids` are the pads in their order from the radio, `line_id` the cable behind them; `offset` is attenuation in dB
    by frequency as typed by hand, in place of both. `entered_db` is an offset that the analyzer has added to what it
    shows already; the levels at its input are so much lower. `filter_name` names an added filter that was in the path,
    so that before and after are told apart. `taken_on` is an ISO date, with a time where that is known. `set_aside` is
    the reason for which it is not heard.
    """

    id: str
    name: str
    sample_id: str
    setup_id: str
    instrument_id: str
    carrier_hz: float
    trace: Trace
    rbw_hz: float = 0.0
    mode: str = ""
    pad_ids: tuple[str, ...] = ()
    line_id: str = ""
    offset: Curve | None = None
    filter_name: str = ""
    file_name: str = ""
    sha256: str = ""
    unit: str = ""
    columns: str = ""
    taken_on: str = ""
    entered_db: float = 0.0
    setting_id: str = ""
    round: int = 1
    set_aside: str = ""

    @property
    def at_input(self) -> Trace:
        """The trace as it stands at the analyzer's input."""
        return replace(self.trace, level_db=self.trace.level_db - self.entered_db) if self.entered_db else self.trace
