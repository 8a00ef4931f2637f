"""Every format: what it keeps, and that nothing but a clear refusal ever comes of a broken file."""

import contextlib
import io
import json
import struct
import subprocess
import sys
import unittest
import zipfile
import zlib
from collections.abc import Iterator
from pathlib import Path
from random import Random
from unittest.mock import patch

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from hinoki.core.errors import UnreadableModel
from hinoki.core.formats.base import ModelFile, NamedMesh
from hinoki.core.formats.registry import READERS, read_file
from hinoki.core.formats.write import WRITERS, write_file
from hinoki.core.geometry.mesh import Mesh
from tests.effort import either, tried
from tests.mutations import mutated, seeds
from tests.shapes import box, torus
from tests.step_files import step_box

RING = torus(30, 8, 24, 12)
BRICK = box(10, 20, 30).mesh
TWO = [NamedMesh("ring", RING), NamedMesh("brick", Mesh(BRICK.vertices + np.array([60.0, 0, 0]), BRICK.faces))]
OFF = b"OFF\n4 4 6\n0 0 0\n1 0 0\n0 1 0\n0 0 1\n3 0 2 1\n3 0 1 3\n3 1 2 3\n3 0 3 2\n"
PLY_TEXT = (
    b"ply\nformat ascii 1.0\nelement vertex 4\nproperty float x\nproperty float y\nproperty float z\n"
    b"element face 4\nproperty list uchar int vertex_indices\nend_header\n"
    b"0 0 0\n1 0 0\n0 1 0\n0 0 1\n3 0 2 1\n3 0 1 3\n3 1 2 3\n3 0 3 2\n"
)
GOOD = {
    **{ending: write_file(TWO, f"a{ending}") for ending in WRITERS},
    ".off": OFF,
    ".txt.ply": PLY_TEXT,
    ".step": step_box(10, 20, 30),
}


def broken(data: bytes) -> Iterator[bytes]:
    """At least 30 broken variants of a file: cut off, bytes turned over, blanked, repeated, shuffled."""
    n = len(data)
    for k in range(12):
        yield data[: max(1, n * k // 12)]
    rng = np.random.default_rng(5)
    for _ in range(14):
        turned = bytearray(data)
        for at in rng.integers(0, n, 6):
            turned[int(at)] ^= int(rng.integers(1, 256))
        yield bytes(turned)
    for k in range(4):
        at = n * k // 4
        yield data[:at] + bytes(min(40, n - at)) + data[at + 40 :]
    yield data + data
    yield data[::-1]
    yield b"\xff" * 200


def packed(model: bytes, name: str = "3D/3dmodel.model", **more: bytes) -> bytes:
    """A 3MF around a model part."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr(name, model)
        for entry, content in more.items():
            archive.writestr(entry, content)
    return out.getvalue()


def model_3mf(body: str, head: str = 'unit="millimeter"', prolog: str = "") -> bytes:
    """The model part of a 3MF."""
    space = "http://schemas.microsoft.com/3dmanufacturing/core/2015/02"
    return f'<?xml version="1.0"?>{prolog}<model {head} xmlns="{space}">{body}</model>'.encode()


TETRA = (
    "<mesh><vertices><vertex x='0' y='0' z='0'/><vertex x='1' y='0' z='0'/><vertex x='0' y='1' z='0'/>"
    "<vertex x='0' y='0' z='1'/></vertices><triangles><triangle v1='0' v2='2' v3='1'/><triangle v1='0' v2='1' v3='3'/>"
    "<triangle v1='1' v2='2' v3='3'/><triangle v1='0' v2='3' v3='2'/></triangles></mesh>"
)


def glb(document: object, blob: bytes = b"") -> bytes:
    """A GLB around a description and its data."""
    text = json.dumps(document).encode()
    text += b" " * (-len(text) % 4)
    blob += bytes(-len(blob) % 4)
    parts = struct.pack("<II", len(text), 0x4E4F534A) + text
    if blob:
        parts += struct.pack("<II", len(blob), 0x004E4942) + blob
    return struct.pack("<4sII", b"glTF", 2, 12 + len(parts)) + parts


class RoundTrips(unittest.TestCase):
    def test_what_is_written_is_read_back(self) -> None:
        whole = sum(o.mesh.volume_mm3 for o in TWO)
        for ending in WRITERS:
            found = read_file(GOOD[ending], f"pair{ending}")
            scale = 1e9 if found.unit == "m" else 1.0
            self.assertAlmostEqual(found.mesh.volume_mm3 * scale / whole, 1, places=4, msg=ending)
            self.assertTrue(found.mesh.edges.closed, ending)

    def test_objects_keep_their_names_and_places(self) -> None:
        for ending in (".3mf", ".obj", ".glb"):
            found = read_file(GOOD[ending], f"pair{ending}")
            self.assertEqual(len(found.objects), 2, ending)
            self.assertIn("ring", found.objects[0].name)
            scale = 1000 if found.unit == "m" else 1
            self.assertAlmostEqual(float(found.objects[1].mesh.bounds[0][0]) * scale, 55, places=3, msg=ending)

    def test_units_are_honoured(self) -> None:
        self.assertEqual(read_file(GOOD[".3mf"], "a.3mf").unit, "mm")
        self.assertEqual(read_file(GOOD[".glb"], "a.glb").unit, "m")
        self.assertIsNone(read_file(GOOD[".stl"], "a.stl").unit)
        body = f"<resources><object id='1' type='model'>{TETRA}</object></resources><build><item objectid='1'/></build>"
        self.assertEqual(read_file(packed(model_3mf(body, 'unit="inch"')), "a.3mf").unit, "inch")
        micron = read_file(packed(model_3mf(body, 'unit="micron"')), "a.3mf")
        self.assertEqual((micron.unit, round(float(micron.mesh.bounds[1][0]), 6)), ("mm", 0.001))

    def test_writing_twice_gives_the_same_bytes(self) -> None:
        for ending in WRITERS:
            self.assertEqual(write_file(TWO, f"a{ending}"), GOOD[ending], ending)

    def test_components_and_transforms_of_a_3mf(self) -> None:
        body = (
            f"<resources><object id='1' type='model' name='one'>{TETRA}</object><object id='2' type='model'><components>"
            "<component objectid='1' transform='1 0 0 0 1 0 0 0 1 10 0 0'/>"
            "<component objectid='1' transform='-1 0 0 0 1 0 0 0 1 0 0 0'/></components></object></resources>"
            "<build><item objectid='2' transform='2 0 0 0 2 0 0 0 2 0 0 5'/></build>"
        )
        found = read_file(packed(model_3mf(body)), "a.3mf")
        self.assertEqual([o.name for o in found.objects], ["one", "one 2"])
        np.testing.assert_allclose(found.objects[0].mesh.bounds, [[20, 0, 5], [22, 2, 7]], atol=1e-9)
        # the mirrored one still looks outwards
        self.assertAlmostEqual(found.objects[1].mesh.volume_mm3, 8 / 6, places=9)

    def test_polygons_and_negative_numbers_in_an_obj(self) -> None:
        text = b"v 0 0 0\nv 2 0 0\nv 2 2 0\nv 0 2 0\nf -4 -3 -2 -1\nf 1//1 2//1 3//1\nl 1 2\n"
        found = read_file(text, "a.obj")
        self.assertEqual(len(found.mesh.faces), 3)
        self.assertEqual(found.left_out, ("1 lines were left out",))

    def test_text_ply_and_polygons_in_binary_ply(self) -> None:
        self.assertAlmostEqual(read_file(PLY_TEXT, "a.ply").mesh.volume_mm3, 1 / 6)
        head = PLY_TEXT[: PLY_TEXT.index(b"end_header") + 11].replace(b"ascii", b"binary_big_endian")
        head = head.replace(b"face 4", b"face 1").replace(b"list uchar int", b"list uchar uint")
        data = head + np.array([0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0], ">f4").tobytes() + b"\x04"
        self.assertEqual(len(read_file(data + np.arange(4, dtype=">u4").tobytes(), "a.ply").mesh.faces), 2)


class Corpus(unittest.TestCase):
    def read(self, data: bytes, name: str) -> None:
        """Read a damaged file; the readers themselves foresee it, without the guard around them."""
        try:
            with self.assertNoLogs("hinoki.core.formats", "ERROR"):
                found = read_file(data, name)
        except UnreadableModel as error:
            self.assertRegex(error.message, r"^[A-Z“].*\.$")
            self.assertTrue(error.where)
        else:
            self.assertIsInstance(found, ModelFile)
            self.assertTrue(np.isfinite(found.mesh.vertices).all())
            self.assertLess(int(found.mesh.faces.max()), len(found.mesh.vertices))

    def test_thirty_broken_files_of_every_format(self) -> None:
        for ending, data in GOOD.items():
            variants = list(broken(data))
            self.assertGreaterEqual(len(variants), 30)
            # a STEP file is read by a process of its own, which takes a second
            for number, variant in list(enumerate(variants))[:: either(6, 1) if ending == ".step" else 1]:
                with self.subTest(ending=ending, number=number):
                    self.read(variant, f"a{ending}")

    def test_the_whole_corpus_stays_under_a_gigabyte(self) -> None:
        command = [sys.executable, "-m", "tests.core.formats.test_formats", "--corpus"]
        done = subprocess.run(command, capture_output=True, text=True, check=True, timeout=240)
        self.assertLess(int(done.stdout.split()[-1]), 1_000_000, "peak in kilobytes")

    @tried(30)
    @given(
        ending=st.sampled_from([".stl", ".3mf", ".obj", ".ply", ".glb", ".off"]),
        cut=st.floats(0, 1),
        at=st.floats(0, 0.999),
        patch=st.binary(max_size=24),
    )
    def test_any_damage_ends_in_a_model_or_a_refusal(self, ending: str, cut: float, at: float, patch: bytes) -> None:
        data = GOOD[ending]
        place = int(at * len(data))
        self.read((data[:place] + patch + data[place + len(patch) :])[: 1 + int(cut * len(data))], f"a{ending}")

    def test_damage_of_many_kinds(self) -> None:
        """What `bench/fuzz.py` does ten thousand times, a little of it."""
        rng, good = Random(either(7, None)), seeds()
        for number in range(either(300, 10_000)):
            ending = rng.choice(sorted(good))
            with self.subTest(ending=ending, number=number):
                self.read(mutated(ending, good[ending], rng), f"a{ending}")

    @tried(30)
    @given(ending=st.sampled_from(sorted(set(READERS) - {".step", ".stp"})), data=st.binary(max_size=300))
    def test_any_bytes_at_all(self, ending: str, data: bytes) -> None:
        self.read(data, f"a{ending}")


class Refused(unittest.TestCase):
    def refused(self, data: bytes, name: str, *words: str) -> None:
        with self.assertRaises(UnreadableModel) as caught:
            read_file(data, name)
        for word in words:
            self.assertIn(word, caught.exception.message)

    def test_empty_files_and_other_peoples_files(self) -> None:
        for ending in READERS:
            self.refused(b"", f"a{ending}", "empty")
            with self.assertRaises(UnreadableModel):
                read_file(b"\x89PNG\r\n\x1a\n" + bytes(64), f"a{ending}")

    def test_numbers_that_are_none(self) -> None:
        self.refused(OFF.replace(b"1 0 0", b"nan 0 0"), "a.off", "not a number")
        self.refused(PLY_TEXT.replace(b"\n0 1 0\n", b"\n0 inf 0\n"), "a.ply", "not a number")
        self.refused(b"v 0 0 0\nv 1e300 0 0\nv 0 1 0\nf 1 2 3\n", "a.obj", "too far")

    def test_faces_that_refer_to_nothing(self) -> None:
        self.refused(OFF.replace(b"3 0 2 1", b"3 0 2 9"), "a.off", "refers to corner 10", "only 4")
        self.refused(b"v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 7\n", "a.obj", "refers to corner 7")
        self.refused(b"v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 0\n", "a.obj", "Line 4", "not there")
        self.refused(PLY_TEXT.replace(b"3 0 3 2", b"3 0 3 -2"), "a.ply", "refers to")

    def test_counts_beyond_reason(self) -> None:
        self.refused(OFF.replace(b"4 4 6", b"4000000000 4 6"), "a.off", "4,000,000,000")
        self.refused(PLY_TEXT.replace(b"vertex 4", b"vertex 999999999"), "a.ply", "cut off or damaged")
        document = {"asset": {"version": "2.0"}, "accessors": [{"count": 2**31, "componentType": 5126, "type": "VEC3"}]}
        self.refused(glb(document), "a.glb", "more than the file can hold")

    def test_an_archive_that_unpacks_to_gigabytes(self) -> None:
        self.refused(packed(b"<model>" + bytes(60_000_000)), "a.3mf", "would unpack to", "not opened")

    def test_an_archive_that_lies_about_its_size(self) -> None:
        data = bytearray(packed(b"<model/>" * 400))
        at = data.rindex(b"PK\x01\x02")
        data[at + 24 : at + 28] = (5).to_bytes(4, "little")
        with self.assertRaises(UnreadableModel):
            read_file(bytes(data), "a.3mf")

    def test_entities_and_outside_references(self) -> None:
        bomb = '<!DOCTYPE m [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;&a;&a;&a;&a;&a;&a;">]>'
        self.refused(packed(model_3mf("&b;", prolog=bomb)), "a.3mf", "entities")
        outside = '<!DOCTYPE m [<!ENTITY x SYSTEM "file:///etc/hostname">]>'
        self.refused(packed(model_3mf("&x;", prolog=outside)), "a.3mf", "entities")
        document = {"asset": {"version": "2.0"}, "buffers": [{"uri": "../../secret.bin", "byteLength": 12}]}
        self.refused(json.dumps(document).encode(), "a.gltf", "another file", "../../secret.bin")

    def test_paths_with_dots_are_only_names(self) -> None:
        relations = (
            b'<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="r" '
            b'Target="/../../etc/passwd" Type="http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel"/></Relationships>'
        )
        self.refused(packed(b"<model/>", **{"_rels/.rels": relations}), "a.3mf", "not in it")

    def test_circles_and_deep_nesting(self) -> None:
        ring = "<object id='1'><components><component objectid='2'/></components></object>"
        ring += "<object id='2'><components><component objectid='1'/></components></object>"
        self.refused(packed(model_3mf(f"<resources>{ring}</resources><build><item objectid='1'/></build>")), "a.3mf", "circle")
        nodes = [{"children": [1]}, {"children": [0]}]
        document = {"asset": {"version": "2.0"}, "scenes": [{"nodes": [0]}], "nodes": nodes}
        self.refused(glb(document), "a.glb", "circle")
        deep = b'{"asset":' + b"[" * 100_000 + b"]" * 100_000 + b"}"
        self.refused(deep, "a.gltf", "not in order")

    def test_components_that_multiply(self) -> None:
        parts = [f"<object id='1'>{TETRA}</object>"]
        for n in range(2, 9):
            ten = f"<component objectid='{n - 1}'/>" * 10
            parts.append(f"<object id='{n}'><components>{ten}</components></object>")
        body = f"<resources>{''.join(parts)}</resources><build><item objectid='8'/></build>"
        self.refused(packed(model_3mf(body)), "a.3mf", "multiply", "5,000")

    def test_empty_components_that_multiply(self) -> None:
        """Ten-fold and twelve deep over an object without triangles: 424 bytes that would be followed for ever."""
        parts = ["<object id='1'><mesh><vertices/><triangles/></mesh></object>"]
        for n in range(2, 14):
            ten = f"<component objectid='{n - 1}'/>" * 10
            parts.append(f"<object id='{n}'><components>{ten}</components></object>")
        body = f"<resources>{''.join(parts)}</resources><build><item objectid='13'/></build>"
        self.refused(packed(model_3mf(body)), "a.3mf", "multiply", "50,000")

    def test_a_mesh_placed_so_often_that_it_is_too_much(self) -> None:
        """4 900 nodes on one mesh: what they come to is reckoned before any of them is placed."""
        many = 4900
        data = write_file([NamedMesh("ring", torus(30, 8, 64, 64))], "a.glb")
        size = struct.unpack_from("<I", data, 12)[0]
        document, rest = json.loads(data[20 : 20 + size]), data[28 + size :]
        node = next(n for n in document["nodes"] if "mesh" in n)
        document["nodes"] = [{"name": f"n{k}", "mesh": node["mesh"]} for k in range(many)]
        document["scenes"] = [{"nodes": list(range(many))}]
        self.refused(glb(document, rest), "a.glb", "20,000,000 triangles")

    def test_groups_beyond_reason(self) -> None:
        lines = [b"v 0 0 0", b"v 1 0 0", b"v 0 1 0", *(b"o n%d\nf 1 2 3" % k for k in range(5001))]
        self.refused(b"\n".join(lines), "a.obj", "5,001 objects")

    def test_empty_lists(self) -> None:
        head = b"ply\nformat binary_little_endian 1.0\nelement vertex 0\nproperty float x\nproperty float y\nproperty float z\n"
        head += b"element face %d\nproperty list uchar int vertex_indices\nend_header\n"
        self.refused(head % 200_000 + bytes(200_000), "a.ply", "no triangles")
        self.refused(head % 4_000_000_000 + bytes(1000), "a.ply", "cut off or damaged")

    def test_what_nobody_foresaw_is_a_file_that_cannot_be_used(self) -> None:
        with patch.dict(READERS, {".stl": lambda _: {}["gone"]}), self.assertLogs("hinoki.core.formats", "ERROR") as logged:
            self.refused(b"x", "a.stl", "STL file cannot be used")
        self.assertIn("KeyError", logged.output[0])

    def test_units_and_extensions_that_are_not_known(self) -> None:
        body = f"<resources><object id='1'>{TETRA}</object></resources><build><item objectid='1'/></build>"
        self.refused(packed(model_3mf(body, 'unit="cubit"')), "a.3mf", "cubit")
        self.refused(packed(model_3mf(body, 'unit="inch" requiredextensions="x"')), "a.3mf", "extensions", "x")

    def test_a_damaged_stream_inside_an_archive(self) -> None:
        data = bytearray(GOOD[".3mf"])
        start = data.index(b"3D/3dmodel.model") + 16
        data[start + 30 : start + 60] = bytes(30)
        with self.assertRaises((UnreadableModel, zlib.error)) as caught:
            read_file(bytes(data), "a.3mf")
        self.assertIsInstance(caught.exception, UnreadableModel)

    def test_a_step_file_without_its_end(self) -> None:
        self.refused(GOOD[".step"][:-40], "a.step", "cut off")

    def test_an_unknown_ending_names_the_known_ones(self) -> None:
        self.refused(b"x", "a.doc", ".doc", "STL", "3MF")


def read_corpus() -> int:
    """Read every broken file in this process; gives the peak memory in kilobytes."""
    for ending, data in GOOD.items():
        for variant in () if ending == ".step" else broken(data):
            with contextlib.suppress(UnreadableModel):
                read_file(variant, f"a{ending}")
    for data in (packed(b"<model>" + bytes(60_000_000)), OFF.replace(b"4 4 6", b"4000000000 4 6")):
        with contextlib.suppress(UnreadableModel):
            read_file(data, "a.3mf" if data[:2] == b"PK" else "a.off")
    # the peak of this program alone: the one getrusage gives is handed down from the process that started it
    status = Path("/proc/self/status").read_text()
    return int(status.split("VmHWM:")[1].split()[0])


if __name__ == "__main__":
    if "--corpus" in sys.argv:
        print(read_corpus())
    else:
        unittest.main()
