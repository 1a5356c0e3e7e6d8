"""Which instrument can do a run, why the others cannot, and the chain that joins it to the sample."""

from functools import lru_cache

from levelmoor.core.bench.chains import Chain, adapters_in_range, find_chain
from levelmoor.core.metrology.decidable import Decidable, decidable
from levelmoor.core.metrology.decision import DecisionRule
from levelmoor.core.metrology.uncertainty import Residuals
from levelmoor.core.model.connectors import Connector
from levelmoor.core.model.equipment import Adapter, Instrument, InstrumentClass
from levelmoor.core.plan.plan_model import Choice
from levelmoor.core.words.figures import brief_range

_NO_SWEEP = {
    InstrumentClass.METER: "reads one figure at a time, and only where its owner may transmit",
    InstrumentClass.WATTMETER: "reads one figure at a time, under power",
    InstrumentClass.BRIDGE: "needs a source and a meter; it does not sweep by itself",
    InstrumentClass.SPECTRUM: "shows spectra, not reflection",
    InstrumentClass.SOURCE: "is a source only",
}


class Instruments:
    """The instruments and adapters of a plan; each question is answered once."""

    def __init__(self, instruments: tuple[Instrument, ...], adapters: tuple[Adapter, ...], rule: DecisionRule) -> None:
        self.instruments, self.adapters, self.rule = instruments, adapters, rule
        self._choices: dict[tuple[object, ...], Choice] = {}
        self._chains: dict[tuple[object, ...], Chain] = {}

    def chain(self, sample: Connector | None, port: Connector | None, low_hz: float, high_hz: float) -> Chain:
        usable = adapters_in_range(self.adapters, low_hz, high_hz)
        key = (sample, port, tuple(a.id for a in usable))
        if key not in self._chains:
            self._chains[key] = find_chain(sample, port, usable)
        return self._chains[key]

    def choose(self, sample: Connector | None, low_hz: float, high_hz: float, limit_swr: float | None) -> Choice:
        """The instrument that sweeps the range most surely against the limit, with the fewest adapters."""
        key = (sample, low_hz, high_hz, limit_swr)
        if key not in self._choices:
            self._choices[key] = self._choose(sample, low_hz, high_hz, limit_swr)
        return self._choices[key]

    def _choose(self, sample: Connector | None, low_hz: float, high_hz: float, limit: float | None) -> Choice:
        why_not: list[tuple[str, str]] = []
        able: list[tuple[float, int, int, Instrument, Chain, Decidable | None]] = []
        for place, instrument in enumerate(self.instruments):
            chain = self.chain(sample, instrument.connector, low_hz, high_hz)
            decides = _decides(limit, instrument.figures, self.rule) if limit else None
            reason = _why_not(instrument, low_hz, high_hz, chain, decides)
            if reason:
                why_not.append((instrument.name, reason))
                continue
            able.append((_room_lost(decides), len(chain.links), place, instrument, chain, decides))
        if not able:
            said = "; ".join(f"{name}: {reason}" for name, reason in why_not)
            problem = f"no instrument of the team can do this: {said}" if said else "the team owns no instrument yet"
            return Choice(None, Chain(), None, tuple(why_not), problem)
        *_, instrument, chain, decides = min(able)[:6] if len(able) == 1 else min(able, key=lambda a: a[:3])
        why_not += [
            (other.name, "would also do, with less certainty") for *_, other, _c, _d in able if other is not instrument
        ]
        return Choice(instrument, chain, decides, tuple(why_not))


@lru_cache(maxsize=4096)
def _decides(limit: float, figures: Residuals, rule: DecisionRule) -> Decidable:
    return decidable(limit, figures, rule)


def _room_lost(decides: Decidable | None) -> float:
    return 0.0 if decides is None else decides.margin_swr or 0.0


def _why_not(instrument: Instrument, low_hz: float, high_hz: float, chain: Chain, decides: Decidable | None) -> str:
    """Why an instrument cannot do it, or nothing. What is not on record is not held against it."""
    if not instrument.sweeps:
        return _NO_SWEEP[instrument.instrument_class]
    if (instrument.low_hz and low_hz < instrument.low_hz) or (instrument.high_hz and high_hz > instrument.high_hz):
        return f"its range, {brief_range(instrument.low_hz, instrument.high_hz)}, does not contain the window"
    if decides is not None and decides.passes_swr is None:
        return f"at its accuracy it cannot decide {decides.limit_swr:g}: even a perfect match could not pass for sure"
    return "" if chain.unknown else chain.missing
