"""What an operation may use besides its request: the plan that is shown, what the workshop knows, and a place for its files."""

from collections.abc import Mapping
from functools import cached_property
from typing import Any, Literal, Protocol

from pydantic import BaseModel, Field

from hinoki.core.batch.print_items import Known
from hinoki.core.build import Build, build, build_all
from hinoki.core.cache import Cache
from hinoki.core.geometry.mesh import Mesh, Points
from hinoki.core.model.prepared_model import Prepared, prepared
from hinoki.core.plan.plan import Plan, read_plan
from hinoki.core.printlog.edit_impact import PrintedPiece
from hinoki.core.progress import Tell, part_of

Need = Literal["numbers", "known", "power_price", "title", "revision", "project", "photos", "printed"]


class Situation(BaseModel, frozen=True):
    """Where an operation is asked: the plan as JSON, and of the rest what the operation declares that it needs."""

    plan: str = ""
    numbers: dict[str, int] = Field({}, description="piece numbers given before, by key")
    known: Known = Known()
    power_price: float = 0.0
    title: str = Field("", description="the project's name")
    revision: int = 0
    project: str = ""
    printed: list[PrintedPiece] = Field([], description="printed pieces that are of the shapes of the plan that is shown")
    photos: dict[str, str] = Field({}, description="hashes of photographs at steps of the assembly, by the unit they are of")

    def only(self, needs: frozenset[Need]) -> dict[str, Any]:
        """The plan and what is needed, as what a result depends on."""
        return self.model_dump(mode="json", include={"plan", *needs})


class Workspace(Protocol):
    """Files and bytes that operations read and write; worker processes and tests have one each."""

    def source(self, sha256: str) -> bytes:
        """A model file by its hash."""

    def photo(self, project: str, unit: str) -> bytes | None:
        """A photograph at a step."""

    def draw(self, name: str, mesh: Mesh) -> bool:
        """Keep a drawing where there is none; whether there was none."""

    def drawing(self, name: str) -> bytes:
        """A drawing that was kept."""

    def map_walls(self, name: str, mesh: Mesh) -> None:
        """Keep a thickness map where there is none."""

    def draw_gaps(self, name: str, surface: Mesh, gaps: Points) -> None:
        """Keep a drawing where there is none, and a map of the gaps (m,) over its faces."""

    def keep(self, folder: Literal["answers", "builds", "exports"], name: str, content: bytes) -> None:
        """Keep a file."""

    def show_pieces(self, drawings: Mapping[str, str]) -> None:
        """Tell the drawings of pieces that are there before the rest of a build."""


class Context:
    """What one run of an operation has at hand. `target` is the name its result is kept under."""

    def __init__(
        self,
        situation: Situation,
        needs: frozenset[Need],
        workspace: Workspace,
        cache: Cache,
        progress: Tell,
        target: str = "",
    ) -> None:
        self._situation, self._needs = situation, needs
        self.workspace, self.cache, self.progress, self.target = workspace, cache, progress, target

    @cached_property
    def plan(self) -> Plan:
        """The plan that is shown."""
        return read_plan(self._situation.plan)

    @property
    def stem(self) -> str:
        """The name of its files, without an ending."""
        return self.target.rpartition(".")[0]

    @property
    def numbers(self) -> Mapping[str, int]:
        """Piece numbers given before, by key."""
        return self._needed("numbers").numbers

    @property
    def known(self) -> Known:
        """What the workshop has learned, and what is on its spools."""
        return self._needed("known").known

    @property
    def power_price(self) -> float:
        """The price of a kWh."""
        return self._needed("power_price").power_price

    @property
    def title(self) -> str:
        """The project's name."""
        return self._needed("title").title

    @property
    def revision(self) -> int:
        """The number of the revision that is shown."""
        return self._needed("revision").revision

    @property
    def printed(self) -> list[PrintedPiece]:
        """Printed pieces that are of the shapes of the plan that is shown."""
        return self._needed("printed").printed

    @property
    def photos(self) -> dict[str, bytes]:
        """Photographs at steps of the assembly, by the unit they are of."""
        own = self._needed("photos")
        found = {unit: self.workspace.photo(own.project, unit) for unit in own.photos}
        return {unit: content for unit, content in found.items() if content is not None}

    def built(self, plan: Plan | None = None, tell: Tell | None = None) -> Build:
        """The build of the part that is worked on, or of another plan's; told as the first two fifths of the work where not
        said."""
        telling = tell or part_of(self.progress, 0.0, 0.4)
        return build(plan or self.plan, self.workspace.source, self.cache, telling, self.numbers)

    def project_built(self, plan: Plan | None = None, tell: Tell | None = None) -> Build:
        """As `built`, with all other parts of the project."""
        telling = tell or part_of(self.progress, 0.0, 0.4)
        return build_all(plan or self.plan, self.workspace.source, self.cache, telling, self.numbers)

    def prepared(self, end: float = 0.2) -> Prepared:
        """The model as prepared."""
        return prepared(self.plan, self.workspace.source, self.cache, part_of(self.progress, 0.0, end))

    def part(self, begin: float, end: float) -> Tell:
        """The progress of a share of the work."""
        return part_of(self.progress, begin, end)

    def draw(self, meshes: Mapping[str, Mesh]) -> None:
        """Keep drawings, by name."""
        for name, mesh in meshes.items():
            self.workspace.draw(name, mesh)

    def _needed(self, need: Need) -> Situation:
        if need not in self._needs:
            raise LookupError(f"this operation does not declare that it needs {need}")
        return self._situation
