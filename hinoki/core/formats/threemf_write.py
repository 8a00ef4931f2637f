"""3MF (core specification): writing named objects, each placed by its build item."""

import io
import zipfile
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from xml.sax.saxutils import escape, quoteattr

import numpy as np
import orjson

from hinoki.core.geometry.mesh import Mesh, Points

_TYPES = (
    '<?xml version="1.0" encoding="UTF-8"?>\n'
    '<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types">'
    '<Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/>'
    '<Default Extension="png" ContentType="image/png"/>'
    '<Default Extension="model" ContentType="application/vnd.ms-package.3dmanufacturing-3dmodel+xml"/></Types>'
)
_RELATIONS = (
    '<?xml version="1.0" encoding="UTF-8"?>\n'
    '<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">'
    '<Relationship Target="/3D/3dmodel.model" Id="rel0" '
    'Type="http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel"/>'
)
_THUMBNAIL = (
    '<Relationship Target="/Metadata/thumbnail.png" Id="rel1" '
    'Type="http://schemas.openxmlformats.org/package/2006/relationships/metadata/thumbnail"/>'
)
OWN_NAMESPACE = "https://hinoki.invalid/3mf/2026"
"""names the metadata of our own; the core specification wants a namespace for what it does not name itself"""
_NAMESPACE = "http://schemas.microsoft.com/3dmanufacturing/core/2015/02"
_EPOCH = (1980, 1, 1, 0, 0, 0)


@dataclass(frozen=True)
class Placed:
    """A named mesh and where it stands: `shift_mm` (3,) moves it within the build."""

    name: str
    mesh: Mesh
    part_number: str = ""
    shift_mm: Points = field(default_factory=lambda: np.zeros(3))
    facts: Mapping[str, str] = field(default_factory=dict)
    """metadata of our own, by name"""


def write_3mf(
    objects: Sequence[Placed], title: str = "", facts: Mapping[str, str] | None = None, thumbnail: bytes | None = None
) -> bytes:
    """A 3MF package of `objects` in millimetres with `facts` as metadata of our own and a thumbnail (PNG); byte-identical for
    equal input."""
    parts: list[bytes] = [
        b'<?xml version="1.0" encoding="UTF-8"?>\n'
        b'<model unit="millimeter" xml:lang="en-US" xmlns="'
        + _NAMESPACE.encode()
        + b'" xmlns:hinoki="'
        + OWN_NAMESPACE.encode()
        + b'">'
        b'<metadata name="Title">'
        + _text(title)
        + b'</metadata><metadata name="Application">Hinoki</metadata>'
        + _facts(facts or {})
        + b"<resources>"
    ]
    for number, placed in enumerate(objects, start=1):
        name, code = quoteattr(placed.name), quoteattr(placed.part_number or placed.name)
        parts.append(f'<object id="{number}" type="model" name={name} partnumber={code}>'.encode())
        if placed.facts:
            parts.append(b"<metadatagroup>" + _facts(placed.facts) + b"</metadatagroup>")
        parts.append(b"<mesh><vertices>")
        parts.append(_rows(b'<vertex x="%b" y="%b" z="%b"/>', placed.mesh.vertices.astype(np.float32)))
        parts.append(b"</vertices><triangles>")
        parts.append(_rows(b'<triangle v1="%b" v2="%b" v3="%b"/>', placed.mesh.faces))
        parts.append(b"</triangles></mesh></object>")
    parts.append(b"</resources><build>")
    for number, placed in enumerate(objects, start=1):
        x, y, z = (repr(round(float(value), 4)) for value in placed.shift_mm)
        parts.append(f'<item objectid="{number}" transform="1 0 0 0 1 0 0 0 1 {x} {y} {z}"/>'.encode())
    parts.append(b"</build></model>")
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED, compresslevel=1) as package:
        for path, content in (
            ("[Content_Types].xml", _TYPES.encode()),
            ("_rels/.rels", (_RELATIONS + (_THUMBNAIL if thumbnail else "") + "</Relationships>").encode()),
            ("3D/3dmodel.model", b"".join(parts)),
            *([("Metadata/thumbnail.png", thumbnail)] if thumbnail else []),
        ):
            package.writestr(zipfile.ZipInfo(path, _EPOCH), content, zipfile.ZIP_DEFLATED, 1)
    return out.getvalue()


def _facts(facts: Mapping[str, str]) -> bytes:
    return b"".join(
        b'<metadata name="hinoki:' + name.encode() + b'" type="xs:string">' + escape(value).encode() + b"</metadata>"
        for name, value in sorted(facts.items())
    )


def _text(text: str) -> bytes:
    return quoteattr(text)[1:-1].encode()


def _rows(pattern: bytes, table: np.ndarray) -> bytes:
    """One XML element a row; numbers in their shortest exact form."""
    if len(table) == 0:
        return b""
    columns = [
        orjson.dumps(np.ascontiguousarray(table[:, k]), option=orjson.OPT_SERIALIZE_NUMPY)[1:-1].split(b",") for k in range(3)
    ]
    return b"".join([pattern % row for row in zip(*columns, strict=True)])
