"""Mating faces drawn true to scale, to drill and glue by: as SVG and as DXF."""

import io
from collections.abc import Iterator
from dataclasses import dataclass
from xml.sax.saxutils import escape

import numpy as np
from shapely.geometry import MultiPolygon

from hinoki.core.build import Build
from hinoki.core.divide.mating_faces import face_label
from hinoki.core.geometry.sections import FramedSolid

JUST_INSIDE_MM = 0.2
"""how far from the face the pieces are cut to see their bores and pockets"""
ROOM_MM = 8.0
FOOT_MM = 6.0
"""below the drawing, for the ruler and the text"""
CROSS_MM = 3.0
RULE_MM = 50.0
COLOURS = {"face": (7, "#2a2420"), "A": (1, "#9a4a2b"), "B": (5, "#2f4e6f"), "centres": (3, "#5c6f3f"), "text": (7, "#2a2420")}
"""layers: colour number in DXF, colour in SVG"""


@dataclass(frozen=True)
class FaceDrawing:
    """A face in its own plane, seen from piece B: its outline, what is cut or stands there in each piece, and the joints'
    places."""

    label: str
    a: str
    b: str
    face: MultiPolygon
    in_a: MultiPolygon
    in_b: MultiPolygon
    centres: tuple[tuple[float, float, str], ...]

    @property
    def layers(self) -> dict[str, MultiPolygon]:
        """Outlines by layer."""
        return {"face": self.face, "A": self.in_a, "B": self.in_b}


def face_drawings(built: Build) -> Iterator[FaceDrawing]:
    """A drawing of every mating face, in their order."""
    solids = {p.key: p.solid for p in built.parts}
    names = {p.key: f"{p.number} {p.name}" for p in built.pieces}
    for face in built.faces:
        places = [
            (placed_joint.joint.label(), p)
            for placed_joint in built.placed
            if placed_joint.face.ref == face.ref
            for p in placed_joint.places
        ]
        yield FaceDrawing(
            label=face_label(face, built.numbers),
            a=names[face.a.key],
            b=names[face.b.key],
            face=face.shape,
            in_a=FramedSolid(solids[face.a.key], face.frame).section(-JUST_INSIDE_MM),
            in_b=FramedSolid(solids[face.b.key], face.frame).section(JUST_INSIDE_MM),
            centres=tuple((float(u), float(v), label) for label, (u, v) in places),
        )


def face_svg(drawing: FaceDrawing) -> bytes:
    """The drawing as SVG whose unit is the millimetre: printed at 100 % it is true to scale, which a ruler of 50 mm proves."""
    x0, y0, x1, y1 = _around(drawing)
    wide, tall = x1 - x0, y1 - y0
    lines = [
        '<?xml version="1.0" encoding="UTF-8"?>',
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{wide:.3f}mm" height="{tall:.3f}mm" '
        f'viewBox="{x0:.3f} {-y1:.3f} {wide:.3f} {tall:.3f}" font-family="sans-serif">',
        f"<title>{escape(_title(drawing))}</title>",
    ]
    for layer, shape in drawing.layers.items():
        dash = "" if layer == "face" else ' stroke-dasharray="2 1"' if layer == "A" else ' stroke-dasharray="0.6 0.8"'
        lines.append(f'<g id="{layer}" fill="none" stroke="{COLOURS[layer][1]}" stroke-width="0.2"{dash}>')
        for ring in _rings(shape):
            lines.append(f'<path d="M{" L".join(f"{x:.3f},{-y:.3f}" for x, y in ring)} Z"/>')
        lines.append("</g>")
    lines.append(f'<g id="centres" stroke="{COLOURS["centres"][1]}" stroke-width="0.15">')
    for u, v, _ in drawing.centres:
        lines.append(f'<path d="M{u - CROSS_MM:.3f},{-v:.3f} h{2 * CROSS_MM} M{u:.3f},{-v - CROSS_MM:.3f} v{2 * CROSS_MM}"/>')
    lines.append("</g>")
    foot = -y0 - 2.5
    lines.append(f'<path id="ruler" d="M{x0 + 2:.3f},{foot:.3f} h{RULE_MM}" stroke="#2a2420" stroke-width="0.4"/>')
    lines.append(
        f'<text x="{x0 + 2:.3f}" y="{foot - 1.2:.3f}" font-size="3">{RULE_MM:.0f} mm · {escape(_title(drawing))}</text>'
    )
    lines.append("</svg>")
    return ("\n".join(lines) + "\n").encode()


def face_dxf(drawing: FaceDrawing) -> bytes:
    """The drawing as DXF in millimetres, a layer each for the face, the two pieces, the centres and the text."""
    from ezdxf import units
    from ezdxf._options import options
    from ezdxf.filemanagement import new

    options.write_fixed_meta_data_for_testing = True  # no clock and no random ids in the file
    document = new("R2010")
    document.units = units.MM
    space = document.modelspace()
    for layer, (colour, _) in COLOURS.items():
        document.layers.add(layer, color=colour)
    for layer, shape in drawing.layers.items():
        for ring in _rings(shape):
            space.add_lwpolyline([(round(x, 4), round(y, 4)) for x, y in ring], close=True, dxfattribs={"layer": layer})
    for u, v, _ in drawing.centres:
        space.add_line((u - CROSS_MM, v), (u + CROSS_MM, v), dxfattribs={"layer": "centres"})
        space.add_line((u, v - CROSS_MM), (u, v + CROSS_MM), dxfattribs={"layer": "centres"})
    x0, y0, _, _ = _around(drawing)
    space.add_text(_title(drawing), height=3, dxfattribs={"layer": "text"}).set_placement((x0 + 2, y0 + 2.5))
    for name in sorted(document.entitydb.dxf_types_in_use()):  # a set, whose order is another in every process
        document.classes.add_class(name)
    out = io.StringIO()
    document.write(out)
    return out.getvalue().encode()


def _title(drawing: FaceDrawing) -> str:
    return f"{drawing.label}: {drawing.a} (dashed) on {drawing.b} (dotted), seen from {drawing.b}"


def _around(drawing: FaceDrawing) -> tuple[float, float, float, float]:
    boxes = np.array([s.bounds for s in drawing.layers.values() if not s.is_empty])
    low, high = boxes[:, :2].min(axis=0) - ROOM_MM, boxes[:, 2:].max(axis=0) + ROOM_MM
    return float(low[0]), float(low[1]) - FOOT_MM, max(float(high[0]), float(low[0]) + RULE_MM + ROOM_MM), float(high[1])


def _rings(shape: MultiPolygon) -> Iterator[list[tuple[float, float]]]:
    for part in shape.geoms:
        for ring in (part.exterior, *part.interiors):
            yield [(float(x), float(y)) for x, y in ring.coords[:-1]]
