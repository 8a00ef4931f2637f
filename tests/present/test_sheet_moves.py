"""What moves, on the sheets: both ends of each driver after the steps, and where it is kept while all is put together."""

import io
import unittest

import numpy as np
from PIL import Image

from hinoki.core.moving.movements import Movement, RodMovement, SlideMovement, TurnMovement
from hinoki.core.parts.put_together import parts_scene
from hinoki.core.plan.parts import Instance
from hinoki.core.plan.plan import Plan
from hinoki.present.assemble.assembly import assembly_of_all
from hinoki.present.sheets.moves import move_panels
from hinoki.present.sheets.sheet_html import write_html
from tests.parts import everything, part, plan_of, use_of
from tests.shapes import COMMON, box, stl_of

TURN = TurnMovement(id="v1", name="Arm", moves=("q2 #1",), at_mm=(0, 0, 10), begin=-20, end=80)


def arm(*movements: Movement) -> Plan:
    own = part(2, box(60, 4, 30), Instance(at_mm=(0, 0, 10)))
    return plan_of(use_of(stl_of(box(90, 60, 10))), parts=(own,), movements=movements)


class BothEnds(unittest.TestCase):
    def test_after_the_steps_each_is_shown_at_both_ends(self) -> None:
        plan = arm(TURN)
        (sheet,) = assembly_of_all(plan, everything(plan), COMMON, "Arm on a plate").sheets
        panel = sheet.panels[-1]
        self.assertEqual((panel.number, panel.title), (len(sheet.panels), "Try Arm"))
        self.assertEqual(panel.how, "It goes from -20° (left) to 80° (right).")
        picture = np.asarray(Image.open(io.BytesIO(panel.picture.png)).convert("L"), dtype=float)
        left, right = np.split(picture, 2, axis=1)
        self.assertGreater(float((np.abs(left - right) > 40).mean()), 0.01)
        self.assertIn("Try Arm", write_html(sheet).decode())

    def test_it_is_kept_where_it_is_wanted_while_all_goes_together(self) -> None:
        def reach(*movements: Movement) -> float:
            scene = parts_scene(everything(arm(*movements)))
            low, high = scene.units["q2 #1"].box
            return float(high[1] - low[1])

        self.assertAlmostEqual(reach(TURN), 4.0, places=5)
        quarter = TURN.model_copy(update={"end": 90.0, "kept_at": 90.0})
        self.assertAlmostEqual(reach(quarter), 60.0, places=5)
        gone = TURN.model_copy(update={"moves": ("q9 #1",), "kept_at": 30.0})
        self.assertAlmostEqual(reach(gone), 4.0, places=5)

    def test_a_whole_turn_is_shown_though_it_ends_where_it_began(self) -> None:
        plan = arm(TURN.model_copy(update={"begin": 0.0, "end": 360.0}))
        self.assertEqual([panel.title for panel in move_panels(plan, everything(plan), 1)], ["Try Arm"])

    def test_what_cannot_be_shown_is_left_out(self) -> None:
        plan = arm(TURN)
        built = everything(plan)
        gone = TURN.model_copy(update={"moves": ("q9 #1",)})
        rod = RodMovement(id="v2", a_mm=(0, 30, 20), b_mm=(30, 30, 20), ends_on="v3")
        short = SlideMovement(id="v3", along=(1, 0, 0), driven="rod", by="v2")
        pulled = rod.model_copy(update={"begins_on": "v1"})
        for movements in ((), (gone,), (SlideMovement(id="v5"),), (TURN.model_copy(update={"end": 360.0}), pulled, short)):
            wanted = plan.model_copy(update={"movements": movements})
            self.assertLessEqual(len(move_panels(wanted, built, 3)), len(movements) > 2)
