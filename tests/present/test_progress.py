"""Long work tells how far it is: every stage of a build, of its check and of its drawing."""

import unittest
from collections import Counter

from hinoki.core.build import build
from hinoki.core.cache import Cache
from hinoki.core.check.check import check
from hinoki.core.geometry.solid import Solid
from hinoki.core.progress import Tell, part_of
from hinoki.present.build import present
from tests.shapes import level, plan_for, stl_of


class Progress(unittest.TestCase):
    def test_every_stage_tells_how_far_it_is(self) -> None:
        posts = [Solid.cylinder(1.2, 3, 14).moved(5.0 * i, 5.0 * j, 0) for i in range(7) for j in range(7)]
        data = stl_of(Solid.box([-5, -5, 0], [35, 35, 4]).plus(posts))
        told: list[tuple[float, str]] = []
        tell: Tell = lambda share, phrase: told.append((share, phrase))  # noqa: E731
        cache = Cache()
        made = build(plan_for(data, level(1, 9.0)), lambda _: data, cache, part_of(tell, 0.0, 0.6))
        checked = check(made, cache, part_of(tell, 0.6, 0.8))
        present(made, checked, cache, part_of(tell, 0.8, 1.0))
        shares = [share for share, _ in told]
        self.assertEqual(shares, sorted(shares))
        phrases = Counter(phrase.split(" piece")[0] for _, phrase in told)
        for phrase in (
            "Looking at cut faces", "Finding mating faces", "Joining", "Resting", "Drawing mating faces", "Drawing seams",
            "Looking for films",
        ):  # fmt: skip
            self.assertGreaterEqual(phrases[phrase], 49, phrase)


if __name__ == "__main__":
    unittest.main()
