"""Mass, filament, time, power and cost of a piece."""

import math
from dataclasses import dataclass, replace

from hinoki.core.batch.estimate.factor import SURE, Factor
from hinoki.core.batch.estimate.layers import Layered, layered
from hinoki.core.geometry.mesh import Points
from hinoki.core.geometry.solid import Solid
from hinoki.core.plan.print_settings import PrintSettings
from hinoki.core.printed.speeds import length_of, seconds, stop_seconds
from hinoki.core.workshop.materials import Material
from hinoki.core.workshop.printers import Printer

FILAMENT_MM = 1.75
"""diameter of the filament that lengths are told for (common practice)"""
BRIM_LAYERS = 1


@dataclass(frozen=True)
class Estimate:
    """What printing takes: grams, metres of filament, minutes, kilowatt-hours, and the cost in the workshop's currency."""

    mass_g: float
    support_g: float
    filament_m: float
    minutes: float
    kwh: float
    cost: float
    layers: int
    stuff_cost: float = 0.0
    """what of the cost is material"""
    sure: float = SURE
    """how far off the time may be, as a share of it"""

    @property
    def minutes_range(self) -> tuple[float, float]:
        """Between which the time may lie."""
        return self.minutes * (1 - self.sure), self.minutes * (1 + self.sure)

    def corrected(self, by: Factor) -> "Estimate":
        """The same as prints before it show: time, power and wear by one factor, material by another."""
        stuff = self.stuff_cost * by.mass
        return replace(
            self,
            mass_g=self.mass_g * by.mass,
            support_g=self.support_g * by.mass,
            filament_m=self.filament_m * by.mass,
            minutes=self.minutes * by.time,
            kwh=self.kwh * by.time,
            cost=stuff + (self.cost - self.stuff_cost) * by.time,
            stuff_cost=stuff,
            sure=by.sure,
        )


def estimate(  # noqa: PLR0913 - what a formula takes
    solid: Solid,
    matrix: Points,
    support_mm3: float,
    printer: Printer,
    material: Material,
    settings: PrintSettings,
    power_price: float = 0.0,
) -> Estimate:
    """A piece as it lies, with the volume of its support columns."""
    layer = settings.layer_mm(printer)
    if material.process == "resin":
        return _resin(solid, matrix, support_mm3, printer, material, settings, power_price)
    made = layered(
        solid, matrix, layer, settings.walls * printer.line_mm, settings.skins * layer, settings.infill_percent / 100
    )
    support = support_mm3 * settings.support_percent / 100
    brim = made.outline_mm * settings.brim_mm * layer * BRIM_LAYERS
    volume = made.volume_mm3 + support + brim
    layers = math.ceil(made.height_mm / layer - 1e-6)
    drawing = volume / (layer * printer.line_mm) / printer.speed_mm_s + layers * printer.layer_time_s
    drawing += _slowed(made, printer, layer * printer.line_mm)
    return _added(volume, support, drawing, layers, printer, material, power_price)


def _slowed(made: Layered, printer: Printer, section_mm2: float) -> float:
    """Seconds that go by speeding up and slowing down: along walls as along their outlines, and at the ends of the lines of
    skins and infill, of `section_mm2` each."""
    speed, more = printer.speed_mm_s, printer.acceleration_mm_s2
    outlines = sum(length_of(ring) for ring in made.rings)
    slow = sum(seconds(ring, speed, more) for ring in made.rings) - outlines / speed
    around = slow / outlines * made.walls_mm3 / section_mm2 if outlines > 0 else 0.0
    across = [(made.infill_mm3, made.chord_mm), (made.skins_mm3, made.skin_chord_mm)]
    ends = sum(volume / section_mm2 / chord * stop_seconds(speed, more, chord) for volume, chord in across)
    return around + ends


def _resin(  # noqa: PLR0913 - what a formula takes
    solid: Solid,
    matrix: Points,
    support_mm3: float,
    printer: Printer,
    material: Material,
    settings: PrintSettings,
    price: float,
) -> Estimate:
    """Resin prints full; every layer takes its time, whatever lies in it."""
    layer = settings.layer_mm(printer)
    layers = math.ceil(float(solid.placed(matrix).size[2]) / layer - 1e-6)
    support = support_mm3 * settings.support_percent / 100
    volume = (solid.volume_mm3 + support) * (1 + settings.resin_loss_percent / 100)
    return _added(volume, support, layers * printer.layer_time_s, layers, printer, material, price)


def _added(  # noqa: PLR0913 - what a formula takes
    volume: float, support: float, seconds: float, layers: int, printer: Printer, material: Material, price: float
) -> Estimate:
    minutes = seconds / 60
    kwh = printer.watts / 1000 * minutes / 60
    stuff = material.cost(volume)
    cost = stuff + kwh * price + printer.hourly_cost * minutes / 60
    metres = 0.0 if material.process == "resin" else volume / (math.pi / 4 * FILAMENT_MM**2) / 1000
    return Estimate(material.mass_g(volume), material.mass_g(support), metres, minutes, kwh, cost, layers, stuff)


def area_plot(made: Layered, points: int = 60) -> list[tuple[float, float]]:
    """The layers' areas over height, thinned for a small plot."""
    step = max(1, len(made.heights) // points)
    return [(round(float(z), 2), round(float(a), 1)) for z, a in zip(made.heights[::step], made.areas[::step], strict=True)]


def together(estimates: list[Estimate], printer: Printer, material: Material, power_price: float = 0.0) -> Estimate:
    """Of several pieces printed on one bed: every layer's fixed time counts once, for as many layers as the tallest has; and
    resin takes no longer for many than for one."""
    layers = max((e.layers for e in estimates), default=0)
    shared = printer.layer_time_s / 60
    own = [0.0 if material.process == "resin" else e.minutes - e.layers * shared for e in estimates]
    minutes = sum(own) + layers * shared
    kwh = printer.watts / 1000 * minutes / 60
    saved = sum(e.minutes for e in estimates) - minutes
    cost = sum(e.cost for e in estimates) - saved / 60 * (printer.watts / 1000 * power_price + printer.hourly_cost)
    return Estimate(
        sum(e.mass_g for e in estimates),
        sum(e.support_g for e in estimates),
        sum(e.filament_m for e in estimates),
        minutes,
        kwh,
        cost,
        layers,
        sum(e.stuff_cost for e in estimates),
    )


def summed(took: list[Estimate]) -> Estimate:
    """One after the other."""
    whole = sum(t.minutes for t in took)
    return Estimate(
        mass_g=sum(t.mass_g for t in took),
        support_g=sum(t.support_g for t in took),
        filament_m=sum(t.filament_m for t in took),
        minutes=sum(t.minutes for t in took),
        kwh=sum(t.kwh for t in took),
        cost=sum(t.cost for t in took),
        layers=sum(t.layers for t in took),
        stuff_cost=sum(t.stuff_cost for t in took),
        sure=sum(t.sure * t.minutes for t in took) / whole if whole > 0 else SURE,
    )
