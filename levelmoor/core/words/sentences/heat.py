"""What runs under power show."""

SENTENCES = {
    "heat.no_power": "The claim states no power.",
    "heat.no_duty": "The claim states neither mode nor duty cycle, so its average power is unknown.",
    "heat.claimed": "{power:g} W{mode} is {average:.3g} W on average at a duty cycle of {duty:percent} %",
    "heat.outside": "{claimed}. A sweep cannot check this; a run under power with a thermometer can.",
    "heat.found": "{claimed}. {found}",
    "heat.no_frequency": "The run does not state its frequency; add it, or make a run on each band.",
    "heat.with": "With {average:.3g} W on average: {where}",
    "heat.no_limit": "{run} at {hottest:.0f} °C; its maximum temperature is not on record.",
    "heat.passed": "{run} at {hottest:.0f} °C, above its maximum of {limit:g} °C.",
    "heat.too_short": "{run} was too short to show where it ends; let it run for half an hour.",
    "heat.hour": (
        "{run} at {hour:.0f} ± {u:.0f} °C after an hour{at}; the maximum is {limit:g} °C (time constant {tau:.0f} min)"
    ),
    "heat.at": " at {at:mhz} MHz",
    "heat.verdict": "{told}.",
    "heat.more_power": "{told}; the run had more power than claimed.",
    "heat.less_power": "{told}; the run had less power than claimed.",
}
