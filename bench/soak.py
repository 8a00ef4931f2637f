"""Thousands of edits on one project: memory and disk stay flat after the first two hundred.

`python3 run.py bench soak --edits 2000`
"""

import argparse
import sys
import tempfile
import time
from pathlib import Path

import httpx

from hinoki.core.formats.stl import write_stl
from tests.api.serving import started
from tests.shapes import level, torus

SETTLED = 200
GROWS = 1.25
"""how much more than after the first two hundred is still flat: builds differ, and so does what they take"""


def processes(root: int) -> list[int]:
    """A process and all that came from it."""
    parents = {}
    for place in Path("/proc").iterdir():
        if place.name.isdigit():
            try:
                parents[int(place.name)] = int((place / "stat").read_text().rsplit(")", 1)[1].split()[1])
            except OSError:
                continue
    found = [root]
    for one in found:
        found += [child for child, parent in parents.items() if parent == one]
    return found


def memory_mb(root: int) -> float:
    """What they take together, in megabytes; what they share is counted in parts."""
    total = 0.0
    for one in processes(root):
        try:
            text = Path(f"/proc/{one}/smaps_rollup").read_text()
        except OSError:
            continue
        total += sum(int(line.split()[1]) for line in text.splitlines() if line.startswith("Pss:")) / 1000
    return total


def handles(root: int) -> int:
    """How many files and sockets the server has open."""
    return len(list(Path(f"/proc/{root}/fd").iterdir()))


def disk_mb(folder: Path) -> float:
    """What lies in a folder, in megabytes."""
    return sum(p.stat().st_size for p in folder.rglob("*") if p.is_file()) / 1e6


def main() -> int:
    """Edit, and look now and then; gives 0 where it stays flat."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--edits", type=int, default=2000)
    given = parser.parse_args()
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        process, address = started("serve", folder, "--cache-mb", "100", "--worker-mb", "500")
        rows = []
        try:
            with httpx.Client(base_url=address, timeout=120, verify=False) as http:
                made = http.post("/api/projects", json={"name": "Soaked"}).json()
                project = made["project_id"]
                data = write_stl(torus(60, 20, 160, 80))
                url = f"/api/projects/{project}/model?file_name=a.stl&base_revision=1"
                plan = http.post(url, content=data).raise_for_status().json()["plan"]
                begun = time.perf_counter()
                for edit in range(1, given.edits + 1):
                    partings = [level(1, round(5 + 30 * (edit * 0.618 % 1), 3)).model_dump(mode="json")]
                    body = {"base_revision": edit + 1, "label": "Moved", "plan": plan | {"partings": partings}}
                    saved = http.put(f"/api/projects/{project}/plan", json=body)
                    if saved.status_code != 200:
                        raise SystemExit(saved.text)
                    while http.get(f"/api/projects/{project}/build").status_code == 202:
                        time.sleep(0.01)
                    if edit in (1, 50, 100) or edit % SETTLED == 0:
                        took = (time.perf_counter() - begun) / edit
                        memory, disk, opened = memory_mb(process.pid), disk_mb(folder / "cache"), handles(process.pid)
                        rows.append((edit, memory, disk, opened))
                        line = f"edit {edit:5d}  memory {memory:6.0f} MB  cache {disk:6.1f} MB  handles {opened:3d}"
                        print(f"{line}  {took:.3f} s each", flush=True)
        finally:
            process.terminate()
            process.wait()
    settled = next((row for row in rows if row[0] >= SETTLED), rows[-1])
    flat = all(row[k] <= GROWS * max(settled[k], 1) for row in rows if row[0] > SETTLED for k in (1, 2, 3))
    print("flat after the first 200" if flat else "GROWS after the first 200")
    return 0 if flat else 1


if __name__ == "__main__":
    sys.exit(main())
