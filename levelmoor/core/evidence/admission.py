"""Which setups and states a claim may be decided in; whatever shows it."""

from collections.abc import Iterable

from levelmoor.core.evidence.rounds import Rounds
from levelmoor.core.model.claims import Claim, Tuner
from levelmoor.core.model.evaluation import Evaluation, Evidence, Setup
from levelmoor.core.model.quantities import Quantity, ShownBy
from levelmoor.core.model.state import Role
from levelmoor.core.words.said import said

ANY_CLAIM = Claim("", Quantity.SWR)
"""What the usability of a band asks: as a claim of SWR that names nothing else."""
OF_ACCESSORIES = (ShownBy.THROUGH, ShownBy.HEAT)
_ROLES = {Role.OPTION: "a supplied option", Role.ADDED: "an addition", Role.COMPARISON: "for comparison"}
_TODO = {ShownBy.CAPTURE: "capture", ShownBy.TRIAL: "try", ShownBy.HEAT: "run"}


def why_not_allowed(claim: Claim, setup: Setup) -> str:
    """Why evidence in this setup does not decide the claim, or nothing."""
    if claim.setup_id:
        return "" if claim.setup_id == setup.id else said("setup.another")
    if claim.quantity.spec.swept:
        if claim.tuner is Tuner.WITHOUT and setup.tuner_in_line:
            return said("setup.without_tuner")
        if claim.tuner is Tuner.WITH and not setup.tuner_in_line:
            return said("setup.with_tuner")
        if claim.tuner is Tuner.WITH and setup.role is Role.OPTION:
            return ""  # the tuner that the box holds
        if claim.tuner is Tuner.WITH and setup.role is not Role.AS_SUPPLIED:
            return said("setup.which_tuner", name=setup.name, role=_ROLES[setup.role])
    if setup.role is Role.AS_SUPPLIED:
        return ""
    todo = _TODO.get(claim.quantity.spec.shown_by, "sweep")
    return said("setup.role", name=setup.name, role=_ROLES[setup.role], todo=todo)


def is_accessory(claims: Iterable[Claim]) -> bool:
    """Whether the article that is claimed about is one that something goes through: a choke, a pad, a filter."""
    return any(c.quantity.spec.shown_by is ShownBy.THROUGH for c in claims)


def own_setup(evaluation: Evaluation, claim: Claim, setup: Setup) -> bool:
    """Whether a setup is one of an accessory's own, as the fixture or a place on a line are: there it is as supplied,
    though a copy of a setup is proposed as an addition."""
    of_it = claim.quantity.spec.shown_by in OF_ACCESSORIES and is_accessory(evaluation.claims)
    return of_it and not claim.setup_id and setup.role is Role.ADDED


def loads_of_trials(evaluation: Evaluation) -> frozenset[str]:
    """The sweeps that are evidence of what hung on a tuner and not of the tuner itself: those that a trial names, in an
    evaluation that claims nothing of reflection without a tuner."""
    if any(c.quantity.spec.swept and c.tuner is Tuner.WITHOUT for c in evaluation.claims):
        return frozenset()
    return frozenset(t.load_sweep_id for t in evaluation.trials if t.load_sweep_id)


def why_not_heard(evaluation: Evaluation, claim: Claim, evidence: Evidence, rounds: Rounds | None = None) -> str:
    """Why a sweep has no part in the verdict on a claim by the state it is of, or nothing; `rounds` are the
    evaluation's where they were looked up already."""
    setup = next(s for s in evaluation.setups if s.id == evidence.setup_id)
    reason = why_not_allowed(claim, setup)
    if reason or evidence.set_aside:
        return reason or said("aside.by", why=evidence.set_aside)
    if evidence.id in loads_of_trials(evaluation):
        return said("load.of_trial")
    setting = next((s for s in evaluation.settings if s.id == evidence.setting_id), None)
    if evaluation.settings and setting is None:
        return said("setting.unsaid")
    if setting is not None and not any(setting.meant_for(w) for w in claim.windows):
        return said("setting.foreign", name=setting.name, windows=", ".join(w.name for w in claim.windows))
    last = (rounds or Rounds(evaluation)).latest(evidence.sample_id, evidence.setup_id, evidence.setting_id)
    return said("round.earlier", round=last) if last > evidence.round else ""
