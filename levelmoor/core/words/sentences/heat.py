"""What runs under power show."""

SENTENCES = {
    "heat.no_power": "The claim states no power.",
    "heat.no_duty": ("The claim names no mode and no duty cycle; without them its average power is not known."),
    "heat.claimed": "{power:g} W{mode} are {average:.3g} W on average at a duty of {duty:percent} %",
    "heat.outside": "{claimed}. A sweep cannot check this; a run under power with its temperature can.",
    "heat.found": "{claimed}. {found}",
    "heat.no_frequency": "The run does not say at which frequency it was; write it down, or run it on each band.",
    "heat.with": "With {average:.3g} W on average {where}",
    "heat.no_limit": "{run} came to {hottest:.0f} °C; no maximum temperature is on record for it.",
    "heat.passed": "{run} passed {limit:g} °C: {hottest:.0f} °C.",
    "heat.too_short": "{run} was run too short to tell where it ends; let it run for half an hour.",
    "heat.hour": (
        "{run} is {hour:.0f} ± {u:.0f} °C after an hour{at}, at most {limit:g} °C (time constant {tau:.0f} min)"
    ),
    "heat.at": " at {at:mhz} MHz",
    "heat.verdict": "{told}.",
    "heat.more_power": "{told}; with more power than is claimed.",
    "heat.less_power": "{told}; with less power than is claimed.",
}
