"""Reading STL: what is accepted, and how each broken file is refused."""

import unittest

import numpy as np

from hinoki.core.errors import UnreadableModel
from hinoki.core.formats.stl import RECORD, read_stl, write_stl
from tests.shapes import box

GOOD = write_stl(box(10, 20, 30).mesh)
FACET = "facet normal 0 0 1\n outer loop\n  vertex 0 0 0\n  vertex 1 0 0\n  vertex 0 1 0\n endloop\nendfacet\n"


def with_corner(value: float) -> bytes:
    records = np.frombuffer(GOOD, dtype=RECORD, offset=84).copy()
    records["corners"][3, 1, 2] = value
    return GOOD[:84] + records.tobytes()


class Accepted(unittest.TestCase):
    def test_binary_round_trip_keeps_the_shape(self) -> None:
        mesh = read_stl(GOOD)
        self.assertEqual((len(mesh.vertices), len(mesh.faces)), (8, 12))
        self.assertAlmostEqual(mesh.volume_mm3, 6000, places=3)

    def test_writing_is_byte_identical(self) -> None:
        self.assertEqual(write_stl(read_stl(GOOD)), write_stl(read_stl(GOOD)))

    def test_a_binary_file_that_begins_with_solid_is_read_as_binary(self) -> None:
        self.assertEqual(len(read_stl(b"solid made up".ljust(80) + GOOD[80:]).faces), 12)

    def test_ascii_with_any_spacing_and_case(self) -> None:
        text = ("solid x\r\n" + FACET.upper().replace("\n", "\r\n") + "\r\nendsolid x\r\n").encode()
        self.assertEqual(len(read_stl(text).faces), 1)

    def test_ascii_numbers_with_exponents(self) -> None:
        text = "solid\n" + FACET.replace("1 0 0\n  vertex 0 1 0", "1.5e+01 0 0\n  vertex 0 -2.5E-1 0") + "endsolid\n"
        self.assertAlmostEqual(read_stl(text.encode()).bounds[1][0], 15)

    def test_minus_zero_and_zero_are_one_corner(self) -> None:
        records = np.frombuffer(GOOD, dtype=RECORD, offset=84).copy()
        records["corners"][records["corners"] == 0] = np.float32(-0.0)
        records["corners"][0] = np.abs(records["corners"][0]) * np.sign(records["corners"][0])
        self.assertEqual(len(read_stl(GOOD[:84] + records.tobytes()).vertices), 8)


class Refused(unittest.TestCase):
    def refused(self, data: bytes, *words: str, where: str | None = None) -> None:
        with self.assertRaises(UnreadableModel) as caught:
            read_stl(data)
        for word in words:
            self.assertIn(word, caught.exception.message)
        if where is not None:
            self.assertEqual(caught.exception.where, where)

    def test_empty_file(self) -> None:
        self.refused(b"", "empty", where="byte 0")

    def test_text_file_named_stl(self) -> None:
        self.refused(b"Dear maker,\nplease find attached nothing at all.\n" * 4, "text file", where="line 1")

    def test_short_text_file(self) -> None:
        self.refused(b"hello", "text file")

    def test_truncated_binary_names_the_triangle_and_byte(self) -> None:
        cut = GOOD[: 84 + 5 * 50 + 17]
        self.refused(cut, "cut off", "12", "triangle 6", where=f"byte {len(cut)}")

    def test_count_too_small(self) -> None:
        self.refused(GOOD[:80] + (7).to_bytes(4, "little") + GOOD[84:], "header says 7", "room for 12", where="byte 80")

    def test_count_huge(self) -> None:
        self.refused(GOOD[:80] + (2**32 - 1).to_bytes(4, "little") + GOOD[84:], "cut off", "4,294,967,295")

    def test_zero_triangles(self) -> None:
        self.refused(bytes(80) + bytes(4), "no triangles")

    def test_ascii_zero_triangles(self) -> None:
        self.refused(b"solid x\nendsolid x\n", "no triangles")

    def test_not_a_number(self) -> None:
        self.refused(with_corner(np.nan), "Triangle 4", "not a number", where="triangle 4")

    def test_infinite(self) -> None:
        self.refused(with_corner(np.inf), "Triangle 4", "not a number")

    def test_absurdly_far(self) -> None:
        self.refused(with_corner(1e30), "Triangle 4", "too far")

    def test_all_triangles_without_area(self) -> None:
        records = np.zeros(5, dtype=RECORD)
        self.refused(bytes(80) + (5).to_bytes(4, "little") + records.tobytes(), "area")

    def test_ascii_broken_number_names_the_line(self) -> None:
        text = ("solid x\n" + FACET + FACET.replace("1 0 0", "1 zero 0", 1) + "endsolid x\n").encode()
        self.refused(text, "Line 12", "three numbers", where="line 12")

    def test_ascii_missing_line_names_the_next(self) -> None:
        text = ("solid x\n" + FACET.replace(" endloop\n", "") + "endsolid x\n").encode()
        self.refused(text, "Line 7", "endloop", where="line 7")

    def test_ascii_that_breaks_off(self) -> None:
        self.refused(("solid x\n" + FACET + FACET[: FACET.index("  vertex 1")]).encode(), "breaks off after line 11")

    def test_binary_rubbish_shorter_than_a_header(self) -> None:
        self.refused(bytes(range(40)), "40 bytes")
