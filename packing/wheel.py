"""`python -m packing.wheel [FOLDER]`: a wheel for makers, with the built screens, the manual page and shell completion in it.

Nothing but Python is needed where it is installed (`pipx install hinoki-….whl`). Its version is `hinoki.__version__`.
"""

import shutil
import subprocess
import sys
import tempfile
from pathlib import Path

import shtab
from argparse_manpage.manpage import Manpage

from hinoki import __version__
from hinoki.api.screens import WEB, built
from hinoki.cli import whole_parser

ROOT = Path(__file__).parents[1]
PACKED = ("pyproject.toml", "README.md", "LICENSE")
LEFT = shutil.ignore_patterns("__pycache__", "*.pyc")


def make_wheel(folder: Path) -> Path:
    """Build the wheel into a folder; gives its path. Exits with a sentence where the screens are not built."""
    if not built():
        sys.exit("The screens are not built; 'python3 run.py wheel' builds them first.")
    folder.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as place:
        tree, out = Path(place) / "tree", Path(place) / "out"
        lay_out(tree)
        command = [sys.executable, "-m", "pip", "wheel", "--quiet", "--no-deps", "--no-build-isolation", "--wheel-dir"]
        subprocess.run([*command, str(out), str(tree)], check=True)
        made = next(out.glob("*.whl"))
        return Path(shutil.copy2(made, folder / made.name))


def lay_out(tree: Path) -> None:
    """Everything that goes into the wheel, as setuptools expects it."""
    shutil.copytree(ROOT / "hinoki", tree / "hinoki", ignore=LEFT)
    shutil.copytree(WEB, tree / "hinoki" / "web")
    for name in PACKED:
        shutil.copy2(ROOT / name, tree / name)
    parser = whole_parser()
    page = {"project_name": "hinoki", "version": __version__, "manual_title": "Hinoki", "description": parser.description}
    texts = {
        "man/man1/hinoki.1": str(Manpage(parser, page)),
        "bash-completion/completions/hinoki": shtab.complete(parser, "bash"),
        "zsh/site-functions/_hinoki": shtab.complete(parser, "zsh"),
    }
    for where, text in texts.items():
        path = tree / "share" / where
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_text(text, "utf-8")


if __name__ == "__main__":
    print(make_wheel(Path(sys.argv[1]) if len(sys.argv) > 1 else ROOT / "dist"))
