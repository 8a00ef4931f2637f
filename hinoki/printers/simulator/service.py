"""A simulated printer: a small HTTP service of its own that stands in for real ones (docs/printers.md).

`python -m hinoki.printers.simulator.service --port 8471 --speed 1200` prints an hour in three seconds. `/faults` makes it
misbehave.
"""

import argparse
import os
import time
from typing import Literal

import numpy as np
import uvicorn
from fastapi import FastAPI, HTTPException, Query, Request
from pydantic import BaseModel, Field
from starlette.concurrency import run_in_threadpool
from starlette.responses import Response

from hinoki.core.errors import HinokiError
from hinoki.core.formats.registry import read_file
from hinoki.printers.simulator.print_job import PrintJob, Simulation, object_of

LARGEST = 500_000_000
SLACK_MM = 0.05
HANGS_S = 3600.0


class Faults(BaseModel):
    """What it does wrong from now on: answers that are no JSON, no answer at all, an end in the middle, a lost memory, or a job
    that nobody here sent."""

    mode: Literal["none", "garbage", "hang", "die", "restart", "strange job"] = "none"


class Spool(BaseModel):
    """What is loaded."""

    grams: float = Field(ge=0, le=100_000)


def make_printer(simulation: Simulation) -> FastAPI:
    """The service over a simulation."""
    app = FastAPI(title=simulation.name, openapi_url=None)
    faults = Faults()

    @app.middleware("http")
    async def misbehave(request: Request, call_next):  # type: ignore[no-untyped-def]
        if not request.url.path.startswith("/faults"):
            if faults.mode == "garbage":
                return Response(b"\x00\xff{state: printing??", status_code=200, media_type="application/json")
            if faults.mode == "hang":
                await run_in_threadpool(_hang, faults)
        return await call_next(request)

    _add_jobs(app, simulation)
    _add_faults(app, simulation, faults)
    return app


def _add_jobs(app: FastAPI, simulation: Simulation) -> None:
    """What a printer is asked: how it is, what to print, to pause and to stop, and what is loaded."""

    @app.get("/")
    def status() -> dict[str, object]:
        simulation.go_on()
        job = simulation.current
        nozzle, bed = simulation.temperatures()
        return {
            "name": simulation.name,
            "state": job.state if job else "idle",
            "job": job.id if job else None,
            "nozzle_c": nozzle,
            "bed_c": bed,
            "filament_g": round(simulation.filament_g, 1),
            "jobs": list(simulation.jobs),
        }

    @app.put("/jobs/{job_id}", status_code=201)
    async def take(
        job_id: str,
        request: Request,
        minutes: float = Query(gt=0, le=1e6),
        grams: float = Query(gt=0, le=1e6),
        layers: int = Query(1, ge=1),
        title: str = "",
    ) -> dict[str, object]:
        content = bytearray()
        async for chunk in request.stream():
            content += chunk
            if len(content) > LARGEST:
                raise HTTPException(413, "The file is larger than the printer's memory.")
        job = await run_in_threadpool(_taken, simulation, job_id, title, minutes, grams, layers, bytes(content))
        return _told(simulation, job)

    @app.get("/jobs/{job_id}")
    def told(job_id: str) -> dict[str, object]:
        simulation.go_on()
        return _told(simulation, _job(simulation, job_id))

    @app.post("/jobs/{job_id}/{what}")
    def change(job_id: str, what: Literal["pause", "resume", "cancel"]) -> dict[str, object]:
        job = _job(simulation, job_id)
        {"pause": simulation.pause, "resume": simulation.resume, "cancel": simulation.cancel}[what](job)
        return _told(simulation, job)

    @app.put("/spool")
    def load(body: Spool) -> dict[str, object]:
        simulation.load(body.grams)
        return status()


def _add_faults(app: FastAPI, simulation: Simulation, faults: Faults) -> None:
    """How it is made to misbehave."""

    @app.put("/faults")
    def misbehaving(body: Faults) -> dict[str, str]:
        if body.mode == "die":
            os._exit(1)
        if body.mode == "restart":
            simulation.restart()
        elif body.mode == "strange job":
            simulation.take("not-from-here", "a neighbour's vase", 60.0, 40.0, 100, [])
        else:
            faults.mode = body.mode
        return {"mode": body.mode}


def _hang(faults: Faults) -> None:
    until = time.monotonic() + HANGS_S
    while faults.mode == "hang" and time.monotonic() < until:
        time.sleep(0.05)


def _job(simulation: Simulation, job_id: str) -> PrintJob:
    job = simulation.jobs.get(job_id)
    if job is None:
        raise HTTPException(404, "no such job")
    return job


def _taken(  # noqa: PLR0913 - a job's own parts
    simulation: Simulation, job_id: str, title: str, minutes: float, grams: float, layers: int, content: bytes
) -> PrintJob:
    """Read the file, see that it fits, and take it. Raises HTTPException with what is wrong."""
    try:
        file = read_file(content, "job.3mf")
    except HinokiError as error:
        raise HTTPException(422, f"The file cannot be printed: {error.message}"[:480]) from error
    low, high = file.mesh.bounds
    room = np.array(simulation.room_mm)
    if (low < -SLACK_MM).any() or (high > room + SLACK_MM).any():
        size = " × ".join(f"{v:.0f}" for v in high)
        bed = " × ".join(f"{v:.0f}" for v in simulation.room_mm)
        raise HTTPException(422, f"It does not fit: it reaches to {size} mm, and there is room for {bed} mm.")
    return simulation.take(job_id, title, minutes, grams, layers, [object_of(o.name, o.mesh) for o in file.objects])


def _told(simulation: Simulation, job: PrintJob) -> dict[str, object]:
    nozzle, bed = simulation.temperatures()
    return {
        "id": job.id,
        "title": job.title,
        "state": job.state,
        "fraction": round(job.fraction, 4),
        "layer": min(job.layers, int(job.fraction * job.layers)),
        "layers": job.layers,
        "printed_s": round(job.printed_s, 1),
        "grams": round(job.used_g, 2),
        "why": job.why,
        "noticed": [{"name": name, "what": what} for name, what in simulation.noticed(job)],
        "nozzle_c": nozzle,
        "bed_c": bed,
    }


def main() -> None:
    """Run one printer until it is stopped."""
    parser = argparse.ArgumentParser(description="A simulated printer.")
    parser.add_argument("--port", type=int, default=8471)
    parser.add_argument("--name", default="Simulated printer")
    parser.add_argument("--room", type=float, nargs=3, default=(220.0, 220.0, 250.0), metavar=("X", "Y", "Z"))
    parser.add_argument("--speed", type=float, default=1200.0, help="seconds of printing in one second")
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--filament", type=float, default=1000.0, help="grams loaded")
    parser.add_argument("--no-failures", action="store_true")
    given = parser.parse_args()
    room = given.room[0], given.room[1], given.room[2]
    simulation = Simulation(given.name, room, time.monotonic, given.speed, given.seed, given.filament, not given.no_failures)
    uvicorn.run(make_printer(simulation), host="127.0.0.1", port=given.port, log_level="warning", timeout_graceful_shutdown=1)
