"""Vessels and round works: what is turned, and rings that no bed holds whole."""

import numpy as np

from bench.corpus.entry import Entry, Wants
from hinoki.core.geometry.mesh import Mesh
from hinoki.core.geometry.solid import Solid
from hinoki.demo.shapes import turned
from tests.shapes import torus, tube


def vase() -> Solid:
    """A wavy vase, 360 mm high, 4 mm thick."""
    z = np.linspace(0, 360, 48)
    radius = 85 + 35 * np.sin(z / 360 * 2.4 * np.pi)
    outer = [(0.0, 0.0), *zip(radius, z, strict=True), (0.0, 360.0)]
    inner = [(0.0, 4.0), *zip(radius[1:-1] - 4, z[1:-1], strict=True), (radius[-1] - 4, 361.0), (0.0, 361.0)]
    return turned(np.array(outer), 96).minus([turned(np.array(inner), 96)])


def bottle() -> Solid:
    """A bottle with a neck of 36 mm, 3 mm thick."""
    outline = np.array([(0, 0), (75, 0), (75, 210), (60, 250), (22, 285), (18, 340), (0, 340)], float)
    inside = np.array([(0, 4), (72, 4), (72, 209), (57.5, 247.5), (19, 284), (15, 341), (0, 341)], float)
    return turned(outline, 80).minus([turned(inside, 80)])


def bowl() -> Solid:
    """A shallow bowl of 380 mm."""
    a = np.linspace(0, np.pi / 2, 20)
    outer = [(0.0, 0.0), *zip(190 * np.sin(a), 95 - 95 * np.cos(a), strict=True), (0.0, 95.0)]
    inner = [(0.0, 4.0), *zip(186 * np.sin(a[1:]), 95 - 91 * np.cos(a[1:]), strict=True), (186.0, 96.0), (0.0, 96.0)]
    return turned(np.array(outer), 96).minus([turned(np.array(inner), 96)])


def crown() -> Solid:
    """A band with eight spikes."""
    teeth = [Solid.cone(14, 2, 55, 130).moved(91.5 * np.cos(a), 91.5 * np.sin(a), 0) for a in np.linspace(0, 2 * np.pi, 9)[:-1]]
    return Solid.united([tube(95, 88, 60), *teeth])


def gear() -> Solid:
    """A ring gear of 320 mm with 40 teeth inside."""
    a = np.arange(160) / 160 * 2 * np.pi
    inner = np.where(np.arange(160) % 4 < 2, 128.0, 118.0)
    hole = Solid.drawn_ring(np.column_stack([inner * np.cos(a), inner * np.sin(a)]), -1, 31)
    return Solid.cylinder(160, 0, 30).minus([hole])


def wheel() -> Solid:
    """A rim, a hub and six spokes."""
    spokes = [
        Solid.box([15, -7, 8], [150, 7, 22]).placed(
            np.array([[np.cos(t), -np.sin(t), 0, 0], [np.sin(t), np.cos(t), 0, 0], [0, 0, 1.0, 0]])
        )
        for t in np.arange(6) * np.pi / 3
    ]
    hub = Solid.cylinder(28, 0, 34).minus([Solid.cylinder(8, -1, 35)])
    return Solid.united([tube(165, 145, 30), *spokes]).minus([Solid.cylinder(8, -1, 35)]).plus([hub])


def ring_mesh() -> Mesh:
    """A round ring of 300 mm, a thickness of 36 mm."""
    return torus(132, 18, 120, 40)


ENTRIES = (
    Entry("round", "vase", vase, Wants(over_bound=2.0)),
    Entry("round", "bottle", bottle),
    Entry("round", "bowl", bowl),
    Entry("round", "crown", crown, Wants(mirror="x")),
    Entry("round", "gear", gear, Wants(mirror="x")),
    Entry("round", "wheel", wheel, Wants(mirror="x")),
    Entry("round", "ring", ring_mesh, Wants(mirror="x")),
    Entry("round", "wide tube", lambda: tube(150, 144, 180), Wants(mirror="x")),
)
