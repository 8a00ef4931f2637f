"""What a worker of a cluster runs: an operation, with model files that were sent to it, whose files go back with the answer.

The worker is a process of Dask's on this or another machine; nothing of a project is there but what came with the question.
Solids stay in its memory between questions, as in a worker of our own.
"""

import threading
import time
from collections.abc import Mapping
from dataclasses import dataclass

from hinoki import __version__
from hinoki.core.cache import Cache
from hinoki.core.errors import Cancelled, NotFound
from hinoki.core.progress import Tell
from hinoki.jobs.answering import Ended, answered
from hinoki.jobs.job import Asked
from hinoki.jobs.made_files import MadeFiles
from hinoki.jobs.memory import keep_within

TOPIC = "hinoki-progress"
"""where progress is told"""
EVERY_S = 0.2
_CACHE = Cache()
_ALONE = threading.Lock()
"""one question at a time: a worker's memory is for one"""
_LEFT: set[str] = set()
"""questions nobody waits for any more, by who asked them first"""


@dataclass(frozen=True)
class Question:
    """What is sent to a worker, besides the model files."""

    key: str
    asker: str
    """who asked it first"""
    kind: str
    asked: Asked
    photos: dict[str, bytes]
    """photographs at steps, by the unit they are of"""
    version: str = __version__


@dataclass(frozen=True)
class Answer:
    """How it ended, and the files that were made, by their path in the cache folder."""

    ended: Ended
    files: dict[str, bytes]


class SentFiles(MadeFiles):
    """A workspace of what was sent along; what is made is gathered."""

    def __init__(self, sources: Mapping[str, bytes], photos: Mapping[str, bytes]) -> None:
        self._sources, self._photos = sources, photos
        self.made: dict[str, bytes] = {}

    def there(self, path: str) -> bool:
        """Whether it was made here."""
        return path in self.made

    def put(self, path: str, content: bytes) -> None:
        """Gather a file."""
        self.made[path] = content

    def source(self, sha256: str) -> bytes:
        """A model file that was sent along. Raises NotFound."""
        if sha256 not in self._sources:
            raise NotFound("A model file of this project was not sent to the machine that does the work.", "model")
        return self._sources[sha256]

    def photo(self, _project: str, unit: str) -> bytes | None:
        """A photograph that was sent along."""
        return self._photos.get(unit)

    def drawing(self, name: str) -> bytes:
        """A drawing that was made here. Raises NotFound."""
        if f"meshes/{name}.bin" not in self.made:
            raise NotFound(f"The drawing {name[:40]!r} is not on the machine that does the work.", "drawing")
        return self.made[f"meshes/{name}.bin"]

    def show_pieces(self, drawings: Mapping[str, str]) -> None:
        """Nothing: builds are not sent away."""


def model_file(content: bytes) -> bytes:
    """A model file, as a task that others depend on: it goes over the wire once, and is there again when a worker dies."""
    return content


def leave(asker: str) -> None:
    """Have a question left that nobody waits for; run on every worker."""
    _LEFT.add(asker)


def answer(question: Question, sources: Mapping[str, bytes]) -> Answer:
    """Answer a question; what is wrong with it becomes a sentence."""
    if question.version != __version__:
        text = f"A machine of the cluster has Hinoki {__version__}, this one {question.version}. Install the same on both."
        return Answer(Ended("failed", (text, None, 409, "other-version")), {})
    files = SentFiles(sources, question.photos)
    with _ALONE:
        ended = answered(question.kind, question.asked, files, _CACHE, _teller(question.key, question.asker))
        keep_within(_CACHE)
    _LEFT.discard(question.asker)
    return Answer(ended, files.made if ended.what == "done" else {})


def _teller(key: str, asker: str) -> Tell:
    """Tells progress, now and then; raises Cancelled once the question was left."""
    from distributed import get_worker

    worker, last = get_worker(), 0.0

    def tell(fraction: float, phrase: str) -> None:
        nonlocal last
        if asker in _LEFT:
            raise Cancelled("Stopped.")
        now = time.monotonic()
        if now - last >= EVERY_S:
            last = now
            worker.log_event(TOPIC, (key, fraction, phrase))

    tell(0.0, "Begun")
    return tell
