"""The side on which each piece of the demo projects lies, as “Orient all” finds it; so that a newcomer sees them laid."""

from hinoki.core.plan.contents import PieceNote
from hinoki.core.plan.plan import Plan

Down = tuple[float, float, float]
RESTING: dict[str, dict[str, Down]] = {
    "Tern Holm lighthouse 1:60": {
        "p1- p4+ p5-": (0.0, 0.0, -1.0),
        "p1- p4- p5-": (0.0, 0.0, -1.0),
        "p1- p4- p5+": (0.0, 0.0, -1.0),
        "p1- p4+ p5+": (0.0, 0.0, -1.0),
        "p1+ p2- p3-": (0.0, 0.0, -1.0),
        "p1+ p2- p3+": (0.0, 0.0, -1.0),
        "p1+ p2+ p6-": (0.0, 0.0, -1.0),
        "p1+ p2+ p6+": (0.0, 0.0, -1.0),
    },
    "Barn owl festival mask": {
        "p1- p2-": (0.0, 1.0, 0.0),
        "p1- p2+": (0.0, 1.0, 0.0),
        "p1+ p2- p3:b": (0.0, 1.0, 0.0),
        "p1+ p2+": (0.0, 1.0, 0.0),
        "p1+ p2- p3:h": (-0.1234, -0.2526, -0.9597),
    },
    "Saltmarket harbour": {
        "p1:2": (0.0, 0.0, -1.0),
        "p1:h p2- p3-": (0.0, 0.0, -1.0),
        "p1:h p2+ p3-": (-1.0, 0.0, 0.0),
        "p1:1": (0.0, 0.0, -1.0),
        "p1:3": (-0.7071, -0.7071, 0.0),
        "p1:h p2- p3+": (0.0, 0.0, -1.0),
        "p1:h p2+ p3+": (-1.0, 0.0, 0.0),
        "p1:0": (0.0, 0.0, -1.0),
    },
    "Sounding lantern": {
        "p1- p2- p3-": (0.0, 0.0, -1.0),
        "p1- p2+ p3-": (0.0, 0.0, -1.0),
        "p1- p2- p3+": (0.0, 0.0, -1.0),
        "p1- p2+ p3+": (0.0, 0.0, -1.0),
        "p1+ p4-": (0.0, 0.0, 1.0),
        "p1+ p4+ p5-": (0.0, 0.0, 1.0),
        "p1+ p4+ p5+ p6- p7-": (0.0, -1.0, 0.0),
        "p1+ p4+ p5+ p6- p7+": (0.0, 0.0, -1.0),
        "p1+ p4+ p5+ p6+": (0.0, 0.0, -1.0),
    },
    "Withy fen board": {
        "p1- p2-": (0.0, 0.0, -1.0),
        "p1+ p2-": (0.0, 0.0, -1.0),
        "p1- p2+": (0.0, 0.0, -1.0),
        "p1+ p2+": (0.0, 0.0, -1.0),
    },
}


def laid(plan: Plan, project_name: str) -> Plan:
    """A demo plan with the sides its pieces lie on; pieces that are not there any more are passed over by a test."""
    notes = dict(plan.pieces)
    for key, down in RESTING.get(project_name, {}).items():
        notes[key] = notes.get(key, PieceNote()).model_copy(update={"down": down})
    return plan.model_copy(update={"pieces": notes})
