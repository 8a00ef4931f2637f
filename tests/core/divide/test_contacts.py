"""Parts that came in separate: where they touch along a flat area they have a mating face and can be joined."""

import unittest

import numpy as np

from hinoki.core.build import Build
from hinoki.core.divide.partings import LumpsParting
from hinoki.core.formats.stl import write_stl
from hinoki.core.geometry.mesh import Mesh
from hinoki.core.geometry.solid import Solid
from hinoki.core.join.joints import DowelJoint, Joint
from tests.assembling import assembly, way_in
from tests.shapes import box, built, plan_for

LUMPS = LumpsParting(id="p1")


def together(*solids: Solid) -> bytes:
    """The STL of solids that stay separate even where they touch."""
    before, vertices, faces = 0, [], []
    for solid in solids:
        vertices.append(solid.mesh.vertices)
        faces.append(solid.mesh.faces + before)
        before += len(solid.mesh.vertices)
    return write_stl(Mesh(np.concatenate(vertices), np.concatenate(faces)))


def parted(data: bytes, *joints: Joint) -> Build:
    return built(data, plan_for(data, LUMPS, joints=joints))


class Touching(unittest.TestCase):
    def test_a_part_on_another_has_a_face_of_what_they_share(self) -> None:
        result = parted(together(box(60, 60, 20), box(20, 30, 40).moved(25, 0, 20)))
        (face,) = result.faces
        self.assertEqual((face.a.key, face.b.key), ("p1:0", "p1:1"))
        self.assertAlmostEqual(face.shape.area, 15 * 30, places=3)  # it stands out by 5 mm
        np.testing.assert_allclose(face.frame.n, [0, 0, 1], atol=1e-9)
        np.testing.assert_allclose(way_in(assembly(result).order.steps[1]), [0, 0, -1], atol=1e-6)

    def test_it_is_joined_like_any_other(self) -> None:
        data = together(box(60, 60, 20), box(20, 30, 40).moved(0, 0, 20))
        ref = parted(data).faces[0].ref
        result = parted(data, DowelJoint(id="j1", face=ref, count=2, diameter_mm=5, length_mm=12))
        self.assertEqual(len(result.placed[0].places), 2)
        lower, upper = (p.solid for p in result.parts)
        for loose in result.placed[0].tools.loose:
            self.assertAlmostEqual(min(loose.solid.gap(lower, 2), loose.solid.gap(upper, 2)), 0.1, delta=0.01)

    def test_a_part_beside_another_and_two_areas_at_once(self) -> None:
        step = together(box(40, 40, 20), box(20, 40, 30).moved(30, 0, 0), box(10, 10, 10).moved(0, 0, 30))
        faces = parted(step).faces
        self.assertEqual(len(faces), 1)  # side by side; the third hangs in the air
        np.testing.assert_allclose(np.abs(faces[0].frame.n), [1, 0, 0], atol=1e-9)
        table = together(box(60, 20, 10).moved(0, 0, 30), box(10, 20, 30).moved(-25, 0, 0), box(10, 20, 30).moved(25, 0, 0))
        self.assertEqual(sorted(round(f.shape.area) for f in parted(table).faces), [200, 200])

    def test_a_gap_is_no_contact(self) -> None:
        self.assertEqual(parted(together(box(60, 60, 20), box(20, 30, 40).moved(0, 0, 20.1))).faces, [])
