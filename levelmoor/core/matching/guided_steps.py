"""Matching by hand, a step after the other, as those do who have one tuner for every antenna."""

from dataclasses import dataclass

from levelmoor.core.model.networks import Network, NetworkKind, Part


@dataclass(frozen=True)
class GuidedStep:
    """What to do, with which knob; `key` says that it needs the analyzer or a carrier."""

    words: str
    part: Part | None = None
    measured: bool = True


def guided_steps(network: Network) -> list[GuidedStep]:
    """The steps for a network, from mid scale to nothing reflected (common practice, no source)."""
    has = network.parts
    names = {p: k.name for p in has if (k := network.knob(p)) is not None}
    steps = []
    capacitors = [p for p in has if p is not Part.COIL]
    if capacitors:
        marks = " and ".join(f"{names.get(p, p.value)} at {_middle(network, p):g}" for p in capacitors)
        steps.append(GuidedStep(f"Set the capacitors to mid scale: {marks}.", capacitors[0], False))
    steps.append(
        GuidedStep("Listen: turn the coil for the loudest noise on the band. That is close, without transmitting.",
                   Part.COIL, False)
    )  # fmt: skip
    steps.append(GuidedStep(f"{names.get(Part.COIL, 'The coil')}: turn slowly to the first dip.", Part.COIL))
    if Part.C_IN in has:
        double = network.kind is NetworkKind.DIFFERENTIAL_T
        side = "The double capacitor" if double else "Transmitter side"
        steps.append(GuidedStep(f"{side}, {names.get(Part.C_IN)}: turn for the minimum.", Part.C_IN))
    if Part.C_OUT in has:
        steps.append(GuidedStep(f"Antenna side, {names.get(Part.C_OUT)}: turn for the minimum.", Part.C_OUT))
    steps.append(GuidedStep("Repeat, coil included, until nothing is reflected."))
    if network.kind in (NetworkKind.T, NetworkKind.DIFFERENTIAL_T):
        steps.append(
            GuidedStep("If there are two matches, use the one with less coil and more capacitance: it loses less.")
        )
    steps.append(GuidedStep("If a knob is at its stop, move the coil one step and begin again.", Part.COIL))
    return steps


def _middle(network: Network, part: Part) -> float:
    knob = network.knob(part)
    return (knob.low + knob.high) / 2 if knob else 50.0


PERMITTED = "With a meter: key about 10 W, read, unkey, move, key. Never turn a knob while keyed."
