"""An environment with a wheel and what that wheel says it needs, and nothing else: no network, no checkout, no tools."""

import os
import shutil
import subprocess
import sys
import venv
from importlib.metadata import Distribution, distribution
from pathlib import Path

from packaging.requirements import Requirement
from packaging.utils import canonicalize_name


def installed(wheel: Path, folder: Path) -> Path:
    """A new environment in `folder` with the wheel in it; gives its folder of programs. What the wheel needs is linked from the
    environment of this process, one distribution after the other, as its own list of needs and theirs lead to them."""
    venv.create(folder, symlinks=True, with_pip=False)
    site = next((folder / "lib").glob("python*")) / "site-packages"
    command = [sys.executable, "-m", "pip", "--python", str(folder / "bin" / "python"), "install", "--quiet"]
    subprocess.run([*command, "--no-deps", "--no-index", "--no-compile", str(wheel)], check=True)
    hinoki = next(Distribution.discover(name="hinoki", path=[str(site)]))
    for needed in _needs(hinoki):
        _link(needed, site)
    return folder / "bin"


def _needs(first: Distribution) -> list[Distribution]:
    found: dict[str, Distribution] = {}
    waiting = [(first, frozenset[str]())]
    while waiting:
        one, extras = waiting.pop()
        for text in one.requires or []:
            need = Requirement(text)
            asked = any(need.marker.evaluate({"extra": extra}) for extra in (extras or {""})) if need.marker else True
            name = canonicalize_name(need.name)
            if asked and name not in found:
                found[name] = distribution(name)
                waiting.append((found[name], frozenset(need.extras)))
    return list(found.values())


def _link(one: Distribution, site: Path) -> None:
    for file in one.files or []:
        source = Path(str(one.locate_file(file))).resolve()
        if ".." in file.parts or "__pycache__" in file.parts or not source.exists():
            continue
        target = site / file
        target.parent.mkdir(parents=True, exist_ok=True)
        try:
            os.link(source, target)
        except OSError:  # another disk
            shutil.copy2(source, target)
