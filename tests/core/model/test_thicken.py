"""Open sheets become walls, never blocks."""

import math
import unittest

import numpy as np

from hinoki.core.errors import StepRefused
from hinoki.core.formats.stl import write_stl
from hinoki.core.geometry.mesh import Mesh
from hinoki.core.geometry.shape import Body, Shape, closed_solid
from hinoki.core.model.steps import RepairStep, ThickenStep
from hinoki.core.model.steps.repair import is_sheet, recommended
from hinoki.core.progress import quiet
from tests.checked import findings_of
from tests.shapes import box, built, ellipsoid, plan_for, torus


def bowl(radius: float) -> Mesh:
    """The lower half of a sphere, drawn without thickness."""
    mesh = ellipsoid(radius, radius, radius, 96).mesh
    low = mesh.vertices[mesh.faces][:, :, 2].max(axis=1) < 1e-6
    return mesh.only(np.flatnonzero(low))


class Thickened(unittest.TestCase):
    def thick(self, mesh: Mesh, wall: float) -> Shape:
        return ThickenStep(id="s1", wall_mm=wall).apply(Shape((Body("sheet", mesh),)), quiet).shape

    def test_a_plate_by_its_measures(self) -> None:
        """A flat square of side a: the wall's volume is a²·t, and half a tube of radius t/2 around its rim (Steiner)."""
        side, wall = 60.0, 4.0
        square = np.array([[0, 0, 0], [side, 0, 0], [side, side, 0], [0, side, 0]], dtype=float)
        solid = self.thick(Mesh(square, np.array([[0, 1, 2], [0, 2, 3]])), wall).solid
        assert solid is not None
        rim = 4 * side * math.pi * (wall / 2) ** 2 / 2 + 4 / 3 * math.pi * (wall / 2) ** 3
        self.assertAlmostEqual(solid.volume_mm3 / (side**2 * wall + rim), 1, delta=0.02)
        np.testing.assert_allclose(solid.size, [side + wall, side + wall, wall], atol=0.1)

    def test_a_bowl_has_its_wall_and_stays_hollow(self) -> None:
        """Half a sphere of radius r: the wall of thickness t is 2/3·π·((r + t/2)³ − (r − t/2)³), and the rim."""
        for radius, wall in ((40.0, 2.0), (60.0, 5.0)):
            solid = self.thick(bowl(radius), wall).solid
            assert solid is not None
            shell = 2 / 3 * math.pi * ((radius + wall / 2) ** 3 - (radius - wall / 2) ** 3)
            rim = math.pi * (wall / 2) ** 2 / 2 * 2 * math.pi * radius
            self.assertAlmostEqual(solid.volume_mm3 / (shell + rim), 1, delta=0.03)
            self.assertEqual(len(solid.lumps()), 1)

    def test_what_is_closed_stays_and_nothing_open_is_refused(self) -> None:
        ball = box(10, 10, 10)
        shape = Shape((Body("closed", solid=ball), Body("sheet", bowl(20))))
        out = ThickenStep(id="s1", wall_mm=2).apply(shape, quiet)
        self.assertIs(out.shape.bodies[0].solid, ball)
        with self.assertRaisesRegex(StepRefused, "no open sheet"):
            ThickenStep(id="s1").apply(Shape((Body("closed", solid=ball),)), quiet)


class Open(unittest.TestCase):
    def test_nothing_is_said_of_how_an_open_surface_stands(self) -> None:
        """It has no weight yet; once it has a wall, that it stands on its round bottom is told."""
        data = write_stl(bowl(40))
        plan = plan_for(data)
        thick = plan.model_copy(update={"prepare": (ThickenStep(id="s1", wall_mm=3),)})
        said = [[f.code for f in findings_of(built(data, one)) if f.station == "orient"] for one in (plan, thick)]
        self.assertEqual(said, [[], ["piece-unsteady"]])


class Recommended(unittest.TestCase):
    def test_a_sheet_is_never_filled_into_a_block(self) -> None:
        sheet = bowl(40)
        self.assertTrue(is_sheet(sheet))
        how = recommended(sheet, "s1")
        assert how is not None
        out = how.apply(Shape((Body("sheet", sheet),)), quiet)
        self.assertIsNone(closed_solid(out.shape.mesh))
        self.assertEqual((out.findings[-1].code, out.findings[-1].params), ("repair-not-closed", {"sheet": True}))

    def test_a_hole_is_no_sheet(self) -> None:
        ring = torus(40, 12, 72, 36, 1.0)
        holed = ring.only(np.arange(40, len(ring.faces)))
        self.assertFalse(is_sheet(holed))
        self.assertFalse(is_sheet(ring))
        self.assertIsInstance(recommended(holed, "s1"), RepairStep)


if __name__ == "__main__":
    unittest.main()
