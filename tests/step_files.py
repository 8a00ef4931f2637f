"""STEP files of a box and a cylinder, written out entity by entity (ISO 10303-21 text, AP214 names)."""

import math


class _Step:
    def __init__(self) -> None:
        self.lines: list[str] = []

    def add(self, text: str) -> int:
        self.lines.append(text)
        return len(self.lines)

    def point(self, p: tuple[float, float, float]) -> int:
        return self.add(f"CARTESIAN_POINT('',({p[0]:.9f},{p[1]:.9f},{p[2]:.9f}))")

    def way(self, d: tuple[float, float, float]) -> int:
        return self.add(f"DIRECTION('',({d[0]:.9f},{d[1]:.9f},{d[2]:.9f}))")

    def placement(self, at: tuple, z: tuple, x: tuple) -> int:  # type: ignore[type-arg]
        return self.add(f"AXIS2_PLACEMENT_3D('',#{self.point(at)},#{self.way(z)},#{self.way(x)})")

    def vertex(self, p: tuple) -> int:  # type: ignore[type-arg]
        return self.add(f"VERTEX_POINT('',#{self.point(p)})")

    def line_edge(self, a: int, b: int, p: tuple, q: tuple) -> int:  # type: ignore[type-arg]
        d = tuple(v - u for u, v in zip(p, q, strict=True))
        length = math.hypot(*d)
        vector = self.add(f"VECTOR('',#{self.way(tuple(c / length for c in d))},{length:.9f})")  # type: ignore[arg-type]
        line = self.add(f"LINE('',#{self.point(p)},#{vector})")
        return self.add(f"EDGE_CURVE('',#{a},#{b},#{line},.T.)")

    def loop_face(self, edges: list[tuple[int, bool]], surface: int, same: bool = True) -> int:
        oriented = [self.add(f"ORIENTED_EDGE('',*,*,#{e},.{'T' if way else 'F'}.)") for e, way in edges]
        loop = self.add(f"EDGE_LOOP('',({','.join(f'#{o}' for o in oriented)}))")
        bound = self.add(f"FACE_OUTER_BOUND('',#{loop},.T.)")
        return self.add(f"ADVANCED_FACE('',(#{bound}),#{surface},.{'T' if same else 'F'}.)")

    def finish(self, faces: list[int]) -> bytes:
        shell = self.add(f"CLOSED_SHELL('',({','.join(f'#{f}' for f in faces)}))")
        brep = self.add(f"MANIFOLD_SOLID_BREP('body',#{shell})")
        mm = self.add("( LENGTH_UNIT() NAMED_UNIT(*) SI_UNIT(.MILLI.,.METRE.) )")
        rad = self.add("( NAMED_UNIT(*) PLANE_ANGLE_UNIT() SI_UNIT($,.RADIAN.) )")
        sr = self.add("( NAMED_UNIT(*) SI_UNIT($,.STERADIAN.) SOLID_ANGLE_UNIT() )")
        off = self.add(f"UNCERTAINTY_MEASURE_WITH_UNIT(LENGTH_MEASURE(1.E-07),#{mm},'accuracy','')")
        context = self.add(
            "( GEOMETRIC_REPRESENTATION_CONTEXT(3) "
            f"GLOBAL_UNCERTAINTY_ASSIGNED_CONTEXT((#{off})) GLOBAL_UNIT_ASSIGNED_CONTEXT((#{mm},#{rad},#{sr})) "
            "REPRESENTATION_CONTEXT('','') )"
        )
        origin = self.placement((0, 0, 0), (0, 0, 1), (1, 0, 0))
        shape = self.add(f"ADVANCED_BREP_SHAPE_REPRESENTATION('',(#{origin},#{brep}),#{context})")
        app = self.add("APPLICATION_CONTEXT('automotive design')")
        pc = self.add(f"PRODUCT_CONTEXT('',#{app},'mechanical')")
        product = self.add(f"PRODUCT('body','body','',(#{pc}))")
        form = self.add(f"PRODUCT_DEFINITION_FORMATION('','',#{product})")
        dc = self.add(f"PRODUCT_DEFINITION_CONTEXT('part definition',#{app},'design')")
        definition = self.add(f"PRODUCT_DEFINITION('design','',#{form},#{dc})")
        pds = self.add(f"PRODUCT_DEFINITION_SHAPE('','',#{definition})")
        self.add(f"SHAPE_DEFINITION_REPRESENTATION(#{pds},#{shape})")
        body = "".join(f"#{n}={text};\n" for n, text in enumerate(self.lines, start=1))
        return (
            "ISO-10303-21;\nHEADER;\nFILE_DESCRIPTION((''),'2;1');\nFILE_NAME('','',(''),(''),'','','');\n"
            f"FILE_SCHEMA(('AUTOMOTIVE_DESIGN'));\nENDSEC;\nDATA;\n{body}ENDSEC;\nEND-ISO-10303-21;\n"
        ).encode()


def step_box(x: float, y: float, z: float) -> bytes:
    """A box of the given sides, in millimetres."""
    step = _Step()
    corners = [(i * x, j * y, k * z) for k in (0, 1) for j in (0, 1) for i in (0, 1)]
    vertices = [step.vertex(c) for c in corners]
    edges: dict[tuple[int, int], int] = {}

    def edge(a: int, b: int) -> tuple[int, bool]:
        low, high = min(a, b), max(a, b)
        if (low, high) not in edges:
            edges[low, high] = step.line_edge(vertices[low], vertices[high], corners[low], corners[high])
        return edges[low, high], a < b

    sides = [
        ((0, 2, 3, 1), (0, 0, -1), (1, 0, 0)),
        ((4, 5, 7, 6), (0, 0, 1), (1, 0, 0)),
        ((0, 1, 5, 4), (0, -1, 0), (1, 0, 0)),
        ((2, 6, 7, 3), (0, 1, 0), (1, 0, 0)),
        ((0, 4, 6, 2), (-1, 0, 0), (0, 1, 0)),
        ((1, 3, 7, 5), (1, 0, 0), (0, 1, 0)),
    ]
    faces = []
    for ring, normal, across in sides:
        plane = step.add(f"PLANE('',#{step.placement(corners[ring[0]], normal, across)})")
        faces.append(step.loop_face([edge(ring[k], ring[(k + 1) % 4]) for k in range(4)], plane))
    return step.finish(faces)


def step_cylinder(radius: float, height: float) -> bytes:
    """An upright cylinder, in millimetres."""
    step = _Step()
    low, high = (radius, 0.0, 0.0), (radius, 0.0, height)
    a, b = step.vertex(low), step.vertex(high)
    rings = []
    for vertex, z in ((a, 0.0), (b, height)):
        circle = step.add(f"CIRCLE('',#{step.placement((0, 0, z), (0, 0, 1), (1, 0, 0))},{radius:.9f})")
        rings.append(step.add(f"EDGE_CURVE('',#{vertex},#{vertex},#{circle},.T.)"))
    seam = step.line_edge(a, b, low, high)
    wall = step.add(f"CYLINDRICAL_SURFACE('',#{step.placement((0, 0, 0), (0, 0, 1), (1, 0, 0))},{radius:.9f})")
    bottom = step.add(f"PLANE('',#{step.placement((0, 0, 0), (0, 0, -1), (1, 0, 0))})")
    top = step.add(f"PLANE('',#{step.placement((0, 0, height), (0, 0, 1), (1, 0, 0))})")
    faces = [
        step.loop_face([(rings[0], True), (seam, True), (rings[1], False), (seam, False)], wall),
        step.loop_face([(rings[0], False)], bottom),
        step.loop_face([(rings[1], True)], top),
    ]
    return step.finish(faces)
