"""A division carried through without asking: when another one is sought that leaves more room."""

import unittest
from unittest.mock import patch

from hinoki.core.cache import Cache
from hinoki.core.findings import Finding
from hinoki.core.plan.plan import Plan
from hinoki.core.propose import Proposal, Wishes, divided
from hinoki.core.propose.divide import KEPT_FOR_PINS_MM
from hinoki.core.propose.feasibility import Carried, carry
from hinoki.core.propose.recommend_joints import SuitWish
from tests.shapes import box, plan_for, stl_of

BAR = box(60, 60, 300)


class RoomForPins(unittest.TestCase):
    def kept(self, against: str, over: int = 0) -> list[float]:
        """The room that was kept in turn where every division has something against it as long as none is kept."""
        data, asked = stl_of(BAR), list[float]()
        plan = plan_for(data, bed=(220.0, 220.0, 220.0))

        def tried(plan: Plan, wishes: Wishes, one: Proposal, joints: SuitWish | None, *more: object) -> Carried:
            asked.append(wishes.kept_mm)
            done = carry(plan, wishes, one, joints, *more)  # type: ignore[arg-type]
            found = Finding(severity="must-fix", code=against, station="orient")
            return Carried(done.plan, done.built, over, (found,)) if wishes.kept_mm == 0 else done

        with patch("hinoki.core.propose.divide.carry", tried):
            divided(plan, lambda _: data, Cache(), SuitWish(kind="auto"), Wishes())
        return sorted(set(asked))

    def test_where_a_piece_stands_on_a_point_with_what_stands_out_of_it(self) -> None:
        self.assertEqual(self.kept("piece-unsteady"), [0.0, KEPT_FOR_PINS_MM[1]])

    def test_where_one_does_not_fit(self) -> None:
        self.assertEqual(self.kept("joint-thin-wall", over=1), [0.0, KEPT_FOR_PINS_MM[1]])

    def test_not_where_room_would_not_help(self) -> None:
        self.assertEqual(self.kept("joint-thin-wall"), [0.0])


if __name__ == "__main__":
    unittest.main()
