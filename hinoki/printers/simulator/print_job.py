"""How the simulated printer prints: jobs in compressed time, with a temperament, a spool and failures, all from a seed."""

import math
import random
import threading
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from typing import Literal

import numpy as np

from hinoki.core.geometry.mesh import Mesh

JobState = Literal["waiting", "printing", "paused", "done", "failed", "cancelled"]
HEATING_S = 180.0
"""to heat nozzle and bed, in the printer's time"""
ROOM_C, NOZZLE_C, BED_C = 21.0, 215.0, 60.0
LOW_MM = 0.3
"""what lies lower than this stands on the bed"""
NOISE = 0.02
SMALL_MM2, SLENDER = 60.0, 8.0
"""things with less footprint come loose easily; things this many times as high as wide, too (common practice)"""


@dataclass(frozen=True)
class Object:
    """One thing on the bed."""

    name: str
    foot_mm2: float
    height_mm: float

    @property
    def risk(self) -> float:
        """How likely it comes loose: more for small footprints and for tall thin things."""
        slender = self.height_mm / math.sqrt(max(self.foot_mm2, 1.0))
        return min(0.9, 0.01 + 0.3 * math.exp(-self.foot_mm2 / SMALL_MM2) + (0.15 if slender > SLENDER else 0.0))


def object_of(name: str, mesh: Mesh) -> Object:
    """What of a mesh matters on the bed: the area that lies on it, and the height."""
    low, high = mesh.bounds
    lying = (mesh.vertices[mesh.faces][:, :, 2] < low[2] + LOW_MM).all(axis=1)
    area = float(np.abs(mesh.face_vectors[lying, 2]).sum() / 2)
    return Object(name, area, float(high[2] - low[2]))


@dataclass
class PrintJob:
    """A job: what it takes by its ticket, and what it really takes here."""

    id: str
    title: str
    layers: int
    minutes: float
    grams: float
    falls: tuple[tuple[str, str, float], ...]
    """name, what, and the share of the print at which it happens"""
    state: JobState = "waiting"
    printed_s: float = 0.0
    why: str = ""
    ended_by: float = field(default=math.inf)

    @property
    def fraction(self) -> float:
        """How far it is, heating not counted."""
        if self.minutes <= 0:
            return 1.0
        return min(1.0, max(0.0, (self.printed_s - HEATING_S) / (60 * self.minutes)))

    @property
    def used_g(self) -> float:
        """What it has used."""
        return self.grams * self.fraction

    @property
    def ended(self) -> bool:
        """Whether nothing more happens to it."""
        return self.state in ("done", "failed", "cancelled")


class Simulation:
    """One printer. `clock` gives real seconds; `speed` is how many seconds of printing pass in one of them."""

    def __init__(  # noqa: PLR0913 - a printer's traits, by name
        self,
        name: str,
        room_mm: tuple[float, float, float],
        clock: Callable[[], float],
        speed: float = 1.0,
        seed: int = 0,
        filament_g: float = 1000.0,
        failures: bool = True,
    ) -> None:
        self.name, self.room_mm, self.speed, self.seed = name, room_mm, speed, seed
        self.failures = failures
        self.filament_g = self._full_g = filament_g
        temper = random.Random(f"{seed} temper")
        self.time_factor = round(temper.uniform(1.04, 1.22), 3)
        self.mass_factor = round(temper.uniform(0.98, 1.08), 3)
        self.jobs: dict[str, PrintJob] = {}
        self._clock, self._last = clock, clock()
        self._lock = threading.RLock()

    def take(self, job_id: str, title: str, minutes: float, grams: float, layers: int, objects: Sequence[Object]) -> PrintJob:
        """Take a job; the same one again is the one there is."""
        with self._lock:
            self.go_on()
            if job_id in self.jobs:
                return self.jobs[job_id]
            own = random.Random(f"{self.seed} {title} {len(self.jobs)}")
            falls = [
                (o.name, "came loose", round(own.uniform(0.1, 0.9), 3))
                for o in objects
                if own.random() < o.risk and self.failures
            ]
            job = PrintJob(
                job_id,
                title,
                layers,
                minutes * self.time_factor * (1 + own.uniform(-NOISE, NOISE)),
                grams * self.mass_factor * (1 + own.uniform(-NOISE, NOISE)),
                tuple(falls),
            )
            self.jobs[job_id] = job
            self.go_on()
            return job

    def go_on(self) -> None:
        """Let the time that has passed pass for the job under way, and for those that wait behind it."""
        with self._lock:
            now = self._clock()
            left = max(0.0, now - self._last) * self.speed
            self._last = now
            while (job := self.current) is not None:
                if job.state == "waiting":
                    job.state = "printing"
                if job.state != "printing":
                    return
                left = self._print(job, left)
                if job.state == "printing":
                    return

    def _print(self, job: PrintJob, seconds: float) -> float:
        """Print for so long; gives what is left of the time once the job has ended or waits."""
        whole = HEATING_S + 60 * job.minutes
        step = min(seconds, whole - job.printed_s)
        before = job.used_g
        job.printed_s += step
        used = job.used_g - before
        if used > self.filament_g + 1e-9:  # it ran out on the way
            share = (before + self.filament_g) / job.grams
            job.printed_s = HEATING_S + share * 60 * job.minutes
            self.filament_g = 0.0
            job.state, job.why = "paused", "out of filament"
            return 0.0
        self.filament_g -= used
        if job.printed_s >= whole - 1e-9:
            job.state = "done"
        return seconds - step

    @property
    def current(self) -> PrintJob | None:
        """The job it is busy with: the first that has not ended."""
        return next((j for j in self.jobs.values() if not j.ended), None)

    def pause(self, job: PrintJob) -> None:
        """Pause what prints."""
        with self._lock:
            self.go_on()
            if job.state == "printing":
                job.state, job.why = "paused", "paused by hand"

    def resume(self, job: PrintJob) -> None:
        """Go on with what is paused; where it ran out, someone has put a full reel in."""
        with self._lock:
            self.go_on()
            if job.state == "paused":
                self.filament_g = self.filament_g or self._full_g
                job.state, job.why = "printing", ""

    def cancel(self, job: PrintJob) -> None:
        """Stop for good."""
        with self._lock:
            self.go_on()
            if not job.ended:
                job.state, job.why = "cancelled", "stopped by hand"

    def load(self, grams: float) -> None:
        """A new spool."""
        with self._lock:
            self.go_on()
            self.filament_g = grams

    def restart(self) -> None:
        """As after a power cut: it knows of no job any more."""
        with self._lock:
            self.jobs.clear()
            self._last = self._clock()

    def noticed(self, job: PrintJob) -> list[tuple[str, str]]:
        """What its camera has seen fail so far."""
        return [(name, what) for name, what, at in job.falls if job.fraction >= at]

    def temperatures(self) -> tuple[float, float]:
        """Of nozzle and bed, °C."""
        job = self.current
        if job is None or job.state == "waiting":
            return ROOM_C, ROOM_C
        warm = min(1.0, job.printed_s / HEATING_S) if job.printed_s < HEATING_S else 1.0
        nozzle, bed = ROOM_C + warm * (NOZZLE_C - ROOM_C), ROOM_C + warm * (BED_C - ROOM_C)
        return round(nozzle, 1), round(bed, 1)
