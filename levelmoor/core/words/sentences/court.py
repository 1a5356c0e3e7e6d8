"""Which evidence decides: setups, settings, rounds, what contradicts, what stands beside."""

SENTENCES = {
    "together": "{parts:sentences}",
    # -- The setup ---------------------------------------------------------------------------------------------------
    "setup.another": "the claim speaks of another setup; sweep the sample in that one",
    "setup.without_tuner": (
        "the claim is without a tuner, and this sweep was taken with one in line; sweep without it"
    ),
    "setup.with_tuner": "the claim is with a tuner, and this sweep was taken without one; sweep with it in line",
    "setup.which_tuner": (
        "the claim is with a tuner and does not say which, and the one of {name} is {role}; name the setup with the "
        "tuner that is meant in the claim, or sweep with the one that is supplied"
    ),
    "setup.role": (
        "{name} is {role}, so it is shown beside the verdict and does not decide; {todo} the sample as supplied"
    ),
    "aside.by": "it was set aside: {why}",
    "aside.named": "{name} was set aside: {why}",
    "setting.unsaid": "it does not say in which setting it was taken",
    "setting.foreign": "{name} is not a setting for {windows}",
    "round.earlier": "the article was adjusted since; round {round} decides",
    "load.of_trial": "it is the load of a trial and says nothing of the tuner by itself",
    # -- Nothing shown -----------------------------------------------------------------------------------------------
    "nothing.sweep": "There is no sweep of this sample yet.",
    "nothing.capture": "There is no capture of this unit{where} yet.",
    "nothing.mode": "There is no capture of this unit{where} in {mode} yet.",
    "nothing.on": " on {windows}",
    "nothing.trial": "There is no trial of this sample{where} yet that the claim may rest on.",
    "nothing.through": "There is no sweep through this sample that the claim may rest on; sweep it {how}.",
    "nothing.heat": "There is no run under power{where} yet that the claim may rest on.",
    "claim.missing": "The claim has no {what} yet; write it down.",
    "claim.reference": (
        "It names what SWR refers to and states no limit of its own; the claims of SWR are judged by it."
    ),
    "claim.outside": (
        "A sweep of reflection cannot check this; it stays in the list so that nobody thinks it was tested."
    ),
    "claim.problem": "{why}",
    "connector.unseen": ("The sample's connector is not written down in the case; look at it and write it down."),
    "connector.seen": "The sample has {connector}, seen when the case was opened.",
    "claim.no_figure": "The claim states no figure; write it down with it.",
    "setting.none": "No setting for {window} has been swept.{unsaid}",
    "setting.unsaid_by": " {name} does not say in which setting it was taken.",
    "setting.not_swept": "{name} is the setting for {window}, and no sweep says that it was taken in it.",
    "setting.no_one": "No one setting is meant for all of {windows}.",
    "round.not_swept": "Since the last adjustment (round {round}) {window} was not swept; sweep it again.",
    "round.nothing": ("Adjusted since: round {round} was opened, and {nothing} since then; {todo} it again."),
    "tuner.one_setting": (
        "A tuner is set again at each frequency, and one setting need not match the whole window; note each setting "
        "with the frequency it is for."
    ),
    "tuner.in_setting": "In the setting for {window}: {found}",
    "tuner.some": "The tuner was tried at some frequencies of {window} alone; passed: {good}. The rest is not shown.",
    # -- Several pieces ----------------------------------------------------------------------------------------------
    "clash.figures": (
        "The figures contradict each other: {one} reads {first} and {other} reads {second}, {apart:.3f} apart in |Γ| "
        "where {u:.3f} is their combined uncertainty; {settles}."
    ),
    "clash.verdicts": "The figures contradict each other: {one}: {first} {other}: {second} {settles:low}.",
    "clash.values": "The figures contradict each other: {one} reads {first} and {other} reads {second}; {settles}.",
    "clash.adjusted": "say whether the article was adjusted between them, or sweep again",
    "clash.same_load": (
        "sweep the same known load with both, or both through another feed line, and set the wrong one aside"
    ),
    "clash.third": "measure it a third time, and set the wrong one aside",
    "differ.open": (
        "The instruments differ: {one} reads {first} and {other} {second}, up to {apart} apart in the window, and by "
        "that much either verdict could turn; {settles}."
    ),
    "differ.beside": (
        "{found:bare}; {other} reads {second}, further off than the uncertainty of both, and would be {verdict}."
    ),
    "repeats.burst": (
        "Repeats contradict each other: {one} reads {first} where {other} reads no more than {second}, at {points}, as "
        "a signal on the air would make it; sweep again, or set that one aside."
    ),
    "repeats.apart": (
        "Repeats contradict each other: {one} would be {first} by itself and {other} {second}; sweep it again."
    ),
    "repeats.points": "{count:count|point|points}",
    "setups.other": "{found:bare}; {name}, also as supplied, would be {verdict}.",
    "beside.swr": "{name} ({role}): {swr:swr} at worst on {window}, {verdict} by itself",
    "beside.figure": "{name} ({role}): {figure}{where}, {verdict} by itself",
    "windows.named": "{window}: {found}",
    "windows.each": "Passed on each of {windows}. On {first}: {found}",
    "windows.more": "The same of {count} more bands.",
}
