"""`hinoki orient`: how one model file may lie while it prints."""

import argparse
import sys
from collections.abc import Sequence

import numpy as np

from hinoki.cli.shared.arguments import add_bed, add_model, plan_for, read_model
from hinoki.cli.shared.output import add_output, output_of
from hinoki.core.batch.print_items import estimated, things
from hinoki.core.build import build
from hinoki.core.cache import Cache
from hinoki.core.errors import UnreadableModel
from hinoki.core.orient.pieces import OrientWish, groups_of, lying, oriented
from hinoki.core.orient.scoring import PRESETS
from hinoki.core.orient.search import Candidate
from hinoki.core.plan.plan import Plan
from hinoki.present.batches import took_view
from hinoki.present.orient import SHOWN, candidate_view

ORIENT_SCHEMA = "hinoki-orient/1"
_DOWN = np.array([0.0, 0.0, -1.0])
_DRAWN = {"support_mesh", "overhang_mesh", "contact"}


def declare(parser: argparse.ArgumentParser) -> None:
    """Add what `orient` takes."""
    add_model(parser, "unit of the model's numbers")
    add_bed(parser, (220.0, 220.0, 250.0))
    parser.add_argument("--prefer", choices=list(PRESETS), default="least support")
    parser.add_argument("--all", action="store_true", help=f"all that were measured closely, not only the best {SHOWN}")
    add_output(parser, "everything")
    parser.set_defaults(run=_orient, plan=None, up=None, scale=None, hollow=None, least_wall=None)


def _orient(options: argparse.Namespace) -> int:
    data = read_model(options.model)
    plan = plan_for(options, data)
    cache = Cache()
    built = build(plan, lambda _: data, cache)
    groups = groups_of(plan, built, cache)
    if not groups:
        raise UnreadableModel("The surface of this model is open; make it right first, such as with hinoki repair.", "MODEL")
    (group,) = groups
    found = oriented(group, OrientWish(preset=options.prefer).weighing, cache)
    found = found if options.all else found[:SHOWN]
    as_is = lying(group, group.down_of(group.keys[0], _DOWN), "as it stands", cache)
    thing = next(things(plan, built))
    output = output_of(options)
    output.document(
        {
            "schema": ORIENT_SCHEMA,
            "name": options.model.name,
            "bed_mm": [float(v) for v in plan.printer.room_mm],
            "prefer": options.prefer,
            "as_it_stands": candidate_view(as_is).model_dump(exclude=_DRAWN),
            "candidates": [candidate_view(c).model_dump(exclude=_DRAWN) for c in found],
            "estimate_as_it_stands": took_view(estimated(thing.bodies[0], plan, plan.printer, plan.material, 0.0)).model_dump(),
        }
    )
    output.say(f"{options.model.name} on {' × '.join(f'{v:.0f}' for v in plan.printer.room_mm)} mm, {options.prefer}")
    for k, one in enumerate(found, start=1):
        view = candidate_view(one)
        down = ", ".join(f"{v:.3f}" for v in view.rest.down)
        output.say(
            f"{k}. {view.rest.what}, down ({down}): support {view.support_mm3 / 1000:.1f} cm³, "
            f"{view.rest.height_mm:.1f} mm high, bed {view.rest.contact_mm2:.0f} mm², tips at {view.tip_deg:.0f}°"
            + "".join(f"; {text}" for text in (*view.broken, *view.said))
        )
    return _told(found, plan)


def _told(found: Sequence[Candidate], plan: Plan) -> int:
    """The exit code: 1 where no way was found that fits the bed, which is said."""
    if found and found[0].fits:
        return 0
    room = " × ".join(f"{v:g}" for v in plan.printer.room_mm)
    print(f"No way to lay it fits the bed ({room} mm). Divide it, such as with hinoki make.", file=sys.stderr)
    return 1
