"""Printers that speak HTTP, as the simulated printer does (docs/printers.md): JSON both ways, 3MF in the body of a job."""

from typing import Any, TypeVar

import httpx
from pydantic import BaseModel, Field, ValidationError

from hinoki.core.printlog.printer_connection import ASKED_BY
from hinoki.core.printlog.records import PreparedBatch, Progress
from hinoki.printers.base import Fell, Garbled, Gone, Heard, JobState, Refused, Status, Unknown

CONNECT_S, ANSWER_S = 1.5, 4.0
TRIES = 2
"""how often what may be asked twice is asked before a printer counts as gone"""
LARGEST_ANSWER = 1_000_000
"""bytes; a printer that says more does not speak as agreed"""
B = TypeVar("B", bound=BaseModel)


class _Fallen(BaseModel):
    name: str = Field(max_length=300)
    what: str = Field(max_length=60)


class _Job(BaseModel):
    """A job as the printer tells it."""

    state: JobState
    fraction: float = Field(ge=0, le=1)
    layer: int = Field(ge=0, le=10_000_000)
    layers: int = Field(ge=0, le=10_000_000)
    printed_s: float = Field(ge=0, le=1e9)
    grams: float = Field(ge=0, le=1e7)
    why: str = Field("", max_length=300)
    noticed: list[_Fallen] = Field([], max_length=5000)
    nozzle_c: float | None = None
    bed_c: float | None = None


class _Status(BaseModel):
    """A printer as it tells itself."""

    name: str = Field(max_length=80)
    state: str = Field(max_length=40)
    job: str | None = Field(None, max_length=80)
    nozzle_c: float | None = None
    bed_c: float | None = None
    filament_g: float | None = None
    jobs: list[str] = Field([], max_length=10_000)


class HttpPrinter:
    """A printer at an address."""

    follows = True

    def __init__(self, address: str, transport: httpx.BaseTransport | None = None, answer_s: float = ANSWER_S) -> None:
        self._client = httpx.Client(
            base_url=address.rstrip("/"),
            timeout=httpx.Timeout(answer_s, connect=CONNECT_S),
            transport=transport,
            follow_redirects=False,
            headers={ASKED_BY: "a printer"},
            trust_env=False,
        )

    def close(self) -> None:
        """Close the connections to the printer."""
        self._client.close()

    def status(self) -> Status:
        """How the printer is."""
        told = self._asked("GET", "/", _Status)
        return Status(**{**told.model_dump(), "jobs": tuple(told.jobs)})

    def send(self, print_id: str, batch: PreparedBatch, content: bytes) -> None:
        """Hand a job over; the printer knows it by the print's id, so that sending twice is the same as once."""
        ticket: dict[str, str | float] = {
            "title": batch.title,
            "minutes": batch.minutes,
            "grams": batch.grams,
            "layers": batch.layers,
            "layer_mm": batch.layer_mm,
        }
        headers = {"Content-Type": "model/3mf"}
        self._request("PUT", f"/jobs/{print_id}", content=content, params=ticket, headers=headers)

    def heard(self, print_id: str) -> Heard:
        """How a job goes."""
        told = self._asked("GET", f"/jobs/{print_id}", _Job)
        progress = Progress(
            fraction=told.fraction,
            layer=told.layer,
            layers=told.layers,
            nozzle_c=told.nozzle_c,
            bed_c=told.bed_c,
            said=told.why,
        )
        fell = tuple(Fell(f.name, f.what) for f in told.noticed)
        return Heard(told.state, progress, told.printed_s / 60, told.grams, told.why, fell)

    def pause(self, print_id: str) -> None:
        """Pause a job."""
        self._request("POST", f"/jobs/{print_id}/pause")

    def resume(self, print_id: str) -> None:
        """Go on with it."""
        self._request("POST", f"/jobs/{print_id}/resume")

    def cancel(self, print_id: str) -> None:
        """Stop it for good."""
        self._request("POST", f"/jobs/{print_id}/cancel")

    def _asked(self, method: str, path: str, kind: type[B]) -> B:
        answer = self._request(method, path)
        try:
            return kind.model_validate_json(answer)
        except ValidationError as error:
            raise Garbled("The printer answers something that cannot be understood.") from error

    def _request(self, method: str, path: str, **more: Any) -> bytes:
        """One exchange; asking and handing over are tried again, since twice is the same as once. Raises MachineProblem."""
        for attempt in range(1, TRIES + 1):
            try:
                return self._once(method, path, **more)
            except Gone:
                if attempt == TRIES or method == "POST":
                    raise
        raise AssertionError("unreachable")

    def _once(self, method: str, path: str, **more: Any) -> bytes:
        content = bytearray()
        try:
            with self._client.stream(method, path, **more) as answer:
                for chunk in answer.iter_bytes():
                    content += chunk
                    if len(content) > LARGEST_ANSWER:
                        raise Garbled("The printer's answer does not end.")
                status = answer.status_code
        except httpx.TimeoutException as error:
            raise Gone("The printer does not answer in time.") from error
        except httpx.TransportError as error:
            raise Gone("The printer cannot be reached. See that it is switched on, and its address.") from error
        except (httpx.InvalidURL, httpx.DecodingError, UnicodeError) as error:
            raise Garbled("The printer's address or answer cannot be understood.") from error
        if status == 404:
            raise Unknown("The printer knows nothing of this job.")
        if status in (409, 413, 422):
            raise Refused(_why(bytes(content)))
        if status >= 300:
            raise Garbled(f"The printer answers with status {status}.")
        return bytes(content)


class _Refusal(BaseModel):
    detail: str = Field(max_length=500)


def _why(content: bytes) -> str:
    """What a printer says when it does not take something."""
    try:
        return _Refusal.model_validate_json(content).detail
    except ValidationError:
        return "The printer does not take this job, and does not say why."
