"""Which evidence decides: setups, settings, rounds, what contradicts, what stands beside."""

SENTENCES = {
    "together": "{parts:sentences}",
    # -- The setup ---------------------------------------------------------------------------------------------------
    "setup.another": "the claim names another setup; sweep the sample in that one",
    "setup.without_tuner": "the claim is without a tuner, but this sweep has one in line; sweep without it",
    "setup.with_tuner": "the claim is with a tuner, but this sweep has none; sweep with it in line",
    "setup.which_tuner": (
        "the claim is with a tuner but does not say which, and that of {name} is {role}; name the setup in the "
        "claim, or sweep with the supplied tuner"
    ),
    "setup.role": (
        "{name} is {role}, so it is shown beside the verdict and does not decide; {todo} the sample as supplied"
    ),
    "aside.by": "it was left out of the verdict: {why}",
    "aside.named": "{name} was left out of the verdict: {why}",
    "setting.unsaid": "its setting is not stated",
    "setting.foreign": "{name} is not a setting for {windows}",
    "round.earlier": "the product was adjusted since; round {round} decides",
    "load.of_trial": "it is the load of a trial, and shows nothing about the tuner by itself",
    # -- Nothing shown -----------------------------------------------------------------------------------------------
    "nothing.sweep": "There is no sweep of this sample yet.",
    "nothing.capture": "There is no capture of this unit{where} yet.",
    "nothing.mode": "There is no capture of this unit{where} in {mode} yet.",
    "nothing.on": " on {windows}",
    "nothing.trial": "There is no trial of this sample{where} yet that counts for this claim.",
    "nothing.through": "There is no port-to-port sweep of this sample yet that counts for this claim; sweep it {how}.",
    "nothing.heat": "There is no run under power{where} yet that counts for this claim.",
    "claim.missing": "The claim has no {what} yet; add it.",
    "claim.reference": "This says what SWR refers to, and has no limit of its own; the SWR claims are judged by it.",
    "claim.outside": "A reflection sweep cannot check this; it is listed so that nobody thinks it was tested.",
    "claim.problem": "{why}",
    "connector.unseen": "The sample's connector is not stated; look at it and enter it with the sample.",
    "connector.seen": "The sample has {connector}, seen by inspection.",
    "claim.no_figure": "The claim has no figure; add it.",
    "setting.none": "No setting for {window} has been swept.{unsaid}",
    "setting.unsaid_by": " {name} does not state its setting.",
    "setting.not_swept": "{name} is the setting for {window}, and no sweep was made in it.",
    "setting.no_one": "No single setting covers all of {windows}.",
    "round.not_swept": "{window} was not swept since the last adjustment (round {round}); sweep it again.",
    "round.nothing": "The product was adjusted: round {round} began, and {nothing} since then; {todo} it again.",
    "tuner.one_setting": (
        "A tuner is set separately at each frequency, so one setting need not match the whole window; note "
        "each setting "
        "with its frequency."
    ),
    "tuner.in_setting": "In the setting for {window}: {found}",
    "tuner.some": "The tuner was tried at only some frequencies of {window}; passed: {good}. The rest is not shown.",
    # -- Several pieces ----------------------------------------------------------------------------------------------
    "clash.figures": (
        "The figures contradict each other: {one} reads {first} and {other} reads {second}, which is {apart:.3f} "
        "apart in |Γ| with a combined uncertainty of {u:.3f}; {settles}."
    ),
    "clash.verdicts": "The figures contradict each other. {one}: {first} {other}: {second} {settles:cap}.",
    "clash.values": "The figures contradict each other: {one} reads {first} and {other} reads {second}; {settles}.",
    "clash.adjusted": "say whether the product was adjusted between them, or sweep again",
    "clash.same_load": (
        "sweep the same known load with both, or both through another feed line, and leave the wrong one out"
    ),
    "clash.third": "measure it a third time, and leave the wrong one out",
    "differ.open": (
        "The instruments differ: {one} reads {first} and {other} {second}, up to {apart} apart in the window, enough "
        "to change the verdict; {settles}."
    ),
    "differ.beside": (
        "{found:bare}. {other} reads {second}, which differs by more than both uncertainties and would be {verdict}."
    ),
    "repeats.burst": (
        "Repeats contradict each other: {one} reads {first} where {other} reads no more than {second}, at {points}; "
        "a stray signal could have caused it. Sweep again, or leave that one out."
    ),
    "repeats.apart": (
        "Repeats contradict each other: by itself, {one} would be {first} and {other} {second}; sweep it again."
    ),
    "repeats.points": "{count:count|point|points}",
    "setups.other": "{found:bare}. {name}, also as supplied, would be {verdict}.",
    "beside.swr": "{name} ({role}): {swr:swr} at worst on {window}, {verdict} by itself",
    "beside.figure": "{name} ({role}): {figure}{where}, {verdict} by itself",
    "windows.named": "{window}: {found}",
    "windows.each": "Passed on each of {windows}. On {first}: {found}",
    "windows.more": "The same holds for {count} more bands.",
}
