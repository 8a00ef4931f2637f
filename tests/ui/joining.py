"""What tests of the Join station share: a body parted in the middle, edits waited for, elements dragged, exports read."""

import json
import time
import zipfile
from pathlib import Path
from typing import Any

from hinoki.core.divide.partings import FlatParting
from hinoki.core.geometry.solid import Solid
from tests.shapes import box, stl_of
from tests.ui.browser import BrowserCase


class JoinCase(BrowserCase):
    """A test that begins at Join."""

    def block(self, solid: Solid | None = None) -> None:
        """A block of 60 mm, or another body, parted in the middle, its one face shown at Join."""
        body = solid or box(60, 60, 60)
        low, high = body.bounds
        middle = FlatParting(id="p1", axis="z", at_mm=round(float(low[2] + high[2]) / 2, 2))
        self.show(self.started("Block", stl_of(body), partings=[middle.model_dump(mode="json")]), "join")
        self.page.wait_for_selector("[data-test=face-sheet]")

    def drag(self, right: float, down: float) -> None:
        """Drag the first element of a joint in the drawing by so many pixels."""
        place = self.at("spot").first.locator(".hold").bounding_box()
        assert place is not None
        x, y = place["x"] + place["width"] / 2, place["y"] + place["height"] / 2
        self.page.mouse.move(x, y)
        self.page.mouse.down()
        self.page.mouse.move(x + right, y + down, steps=5)
        self.assertGreater(self.at("distance").count(), 0)
        self.page.mouse.up()

    def exported(self) -> dict[str, Any]:
        """The report of an export without pictures; that the screens export is tested where the whole job is."""
        project = self.page.url.split("/projects/")[1].split("/")[0]
        wish = {"model": False, "faces": False, "assembly": False}
        job = self.http.post(f"/api/projects/{project}/exports", json=wish).json()
        while job["state"] in ("queued", "running"):
            time.sleep(0.05)
            job = self.http.get(f"/api/jobs/{job['id']}").json()
        path = self.folder / "out.zip"
        path.write_bytes(self.http.get(f"/api/projects/{project}/exports/{job['result']}").raise_for_status().content)
        return self.report(path)

    def report(self, path: Path) -> dict[str, Any]:
        with zipfile.ZipFile(path) as archive:
            name = next(n for n in archive.namelist() if n.endswith("report.json"))
            found: dict[str, Any] = json.loads(archive.read(name))
        return found
