"""The demo projects as tests of the screens use them: as they are, or with a model of fewer triangles."""

import functools
import json

import httpx

from hinoki.core.formats.registry import read_file
from hinoki.core.formats.stl import write_stl
from hinoki.core.geometry.solid import Solid
from hinoki.demo.projects import DEMOS, MASK
from tests.ui.serving import noted

COARSE_MM = 1.0
"""how far a coarse model may be off the demo's: every piece, joint and finding stays as it is"""


@functools.cache
def demo_project(address: str, name: str) -> str:
    """The id of a demo project by a part of its name."""
    shelf = json.loads(httpx.get(f"{address}/api/projects", timeout=60, verify=False).content)
    demos = {demo.name for demo in DEMOS}
    return str(next(p["id"] for p in shelf if p["name"] in demos and name in p["name"].lower()))


@functools.cache
def coarse_project(address: str, name: str) -> str:
    """The id of a project with a demo's plan and a coarse model, made once a run.

    The mask is as it is: its model has a hole that its plan closes, and no solid to make coarse.
    """
    if name in MASK.name.lower():
        return demo_project(address, name)
    return noted(f"{name}-{address.rsplit(':', 1)[1]}", lambda: _made_coarse(address, name))


def _made_coarse(address: str, name: str) -> str:
    demo = next(d for d in DEMOS if name in d.name.lower())
    content = write_stl(Solid.from_mesh(read_file(demo.source(), "a.stl").mesh).simplified(COARSE_MM).mesh)
    with httpx.Client(base_url=address, timeout=300, verify=False) as http:
        project = str(http.post("/api/projects", json={"name": f"{demo.name}, coarse"}).json()["project_id"])
        upload = f"/api/projects/{project}/model?file_name=coarse.stl&base_revision=1"
        model = http.post(upload, content=content).raise_for_status().json()["plan"]["model"]
        plan = http.get(f"/api/projects/{demo_project(address, name)}").json()["plan"] | {"model": model}
        edit = {"base_revision": 2, "label": "As the demo", "plan": plan}
        http.put(f"/api/projects/{project}/plan", json=edit).raise_for_status()
    return project
