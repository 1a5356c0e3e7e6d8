"""Average power against what the pieces that a team owns stand."""

from levelmoor.core.model.equipment import Equipment


def too_weak(equipment: Equipment, average_w: float) -> str:
    """The loads, pads and feed lines rated for less than an average power in W, in words; empty where all that are
    rated stand it."""
    equipment = equipment.in_use
    rated = [(x.power_w, x.name) for x in equipment.loads] + [(x.power_w, x.name) for x in equipment.pads]
    rated += [(x.power_w, x.name) for x in equipment.lines]
    weak = sorted((watts, name) for watts, name in rated if watts and watts < average_w)
    if not weak:
        return ""
    pieces = ", ".join(f"{name} ({watts:g} W)" for watts, name in weak)
    return f"{average_w:.3g} W on average is more than these are rated for; keep them out of the path: {pieces}."
