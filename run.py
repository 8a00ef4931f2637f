#!/usr/bin/env python3
"""One entry for everything: setup, demo, serve, dev, test, bench, types, words, demos, wheel. Needs Python 3.11, Node 20."""

import hashlib
import os
import shutil
import subprocess
import sys
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

ROOT = Path(__file__).resolve().parent
BENCHES = {name: f"bench.{name}" for name in ("cluster", "estimates", "fuzz", "kept", "mutants", "sample", "soak")} | {
    "corpus": "bench.corpus.run"
}
VENV = ROOT / ".venv"
MARKS = ROOT / ".setup"
WEB = ROOT / "web"
UV = "uv==0.13.9"
BROWSERS = ("/usr/bin/chromium-headless-shell", "/usr/bin/chromium")
"""Debian's browser without windows, and the whole one; either will do"""


def main() -> int:
    """Run the command named on the command line; gives its exit code."""
    commands = {
        "setup": setup,
        "demo": demo,
        "serve": serve,
        "test": test,
        "bench": bench,
        "types": types,
        "words": words,
        "demos": demos,
        "dev": dev,
        "wheel": wheel,
    }
    if len(sys.argv) < 2 or sys.argv[1] not in commands:
        print(f"usage: python3 run.py {' | '.join(commands)}  [options]", file=sys.stderr)
        return 2
    os.environ.pop("PYTHONDONTWRITEBYTECODE", None)  # every process would compile all of Hinoki anew
    if sys.version_info < (3, 11):  # noqa: UP036 - this file is started by whatever Python there is
        print("Hinoki needs Python 3.11 or newer.", file=sys.stderr)
        return 2
    return commands[sys.argv[1]](sys.argv[2:])


def setup(_more: list[str]) -> int:
    """Make the virtual environment, install what is pinned, build the screens; skips what is up to date."""
    with ThreadPoolExecutor(2) as both:
        for one in (both.submit(_setup_python), both.submit(_setup_web)):
            one.result()
    return 0


def _setup_python() -> None:
    _once("python", [ROOT / n for n in ("constraints.txt", "reference.txt", "pyproject.toml")], _install_python)


def _setup_web() -> None:
    _once("npm", [WEB / "package-lock.json"], _install_npm)
    sources = [p for p in (WEB / "src").rglob("*") if p.is_file()]
    sources += [WEB / n for n in ("index.html", "vite.config.ts", "package-lock.json", "openapi.json")]
    _once("web", sorted(sources), _build_web)


def demo(more: list[str]) -> int:
    """Start the application with the demo project."""
    setup([])
    return _hinoki(["demo", *more])


def serve(more: list[str]) -> int:
    """Start the application."""
    setup([])
    return _hinoki(["serve", *more])


def dev(more: list[str]) -> int:
    """Start the application so that a change to Python starts the server anew, and one to the screens is seen at once."""
    setup([])
    server = [_python(), "-m", "uvicorn", "hinoki.api.server:development", "--factory", "--reload", "--reload-dir", "hinoki"]
    with subprocess.Popen([*server, "--port", "8462", "--log-level", "warning", *more], cwd=ROOT) as running:
        try:
            return _call(["npm", "run", "--silent", "dev"], cwd=WEB, check=False)
        finally:
            running.terminate()


def bench(more: list[str]) -> int:
    """Measure speed against the bare kernel, all of it or by section (--help), or run a bench of its own (BENCHES)."""
    setup([])
    name, rest = (more[0], more[1:]) if more and more[0] in BENCHES else ("run", more)
    return _call([_python(), "-m", BENCHES.get(name, "bench.run"), *rest], check=False)


def wheel(more: list[str]) -> int:
    """Build what makers install, with the screens in it, into dist/ or a folder that is named."""
    setup([])
    return _call([_python(), "-m", "packing.wheel", *more], check=False)


def demos(_more: list[str]) -> int:
    """Work the plans of the demo projects out anew and write them where they are shipped."""
    _setup_python()
    return _call([_python(), "-m", "hinoki.demo.projects"])


def types(_more: list[str]) -> int:
    """Make the OpenAPI document and the TypeScript types anew."""
    setup([])
    subprocess.run([_python(), "-m", "hinoki.api.openapi", str(WEB)], cwd=ROOT, check=True)
    return _call(["npm", "run", "--silent", "types"], cwd=WEB)


def words(_more: list[str]) -> int:
    """Read all that Hinoki says from its sources, as a catalogue to be put into other languages."""
    setup([])
    return _call([_python(), "-m", "packing.words"])


def test(more: list[str]) -> int:
    """Lint, types and all tests, or what is named (--help tells more); the last line counts them."""
    screens = MARKS / "screens"
    screens.unlink(missing_ok=True)
    command = [_python(), "-m", "tests.running", "--screens", str(screens), *more]
    with ThreadPoolExecutor(2) as beside:  # tests that need no screens begin while those are made
        making = [beside.submit(_setup_web), beside.submit(_install_browser)]
        _setup_python()
        tests = subprocess.Popen(command, cwd=ROOT)
        try:
            for one in making:
                one.result()
            screens.touch()
            return tests.wait()
        except BaseException:
            tests.terminate()
            tests.wait()
            raise


def _once(name: str, inputs: list[Path], action: object) -> None:
    """Do `action` unless it was done with the same inputs."""
    digest = hashlib.sha256()
    for path in inputs:
        digest.update(str(path.relative_to(ROOT)).encode())
        digest.update(path.read_bytes())
    mark = MARKS / name
    made = {"python": VENV, "npm": WEB / "node_modules", "web": WEB / "dist" / "index.html"}[name]
    if mark.exists() and mark.read_text() == digest.hexdigest() and made.exists():
        return
    print(f"Setting up: {name}", flush=True)
    action()  # type: ignore[operator]
    MARKS.mkdir(exist_ok=True)
    mark.write_text(digest.hexdigest())


def _install_python() -> None:
    if not VENV.exists():
        _call([sys.executable, "-m", "venv", str(VENV)])
    quiet = ["--quiet", "--disable-pip-version-check", "--no-compile"]  # each module is compiled when it is first read
    # both lists are complete: there is nothing to resolve
    every = ["--no-deps", "-r", "constraints.txt", "-r", "reference.txt"]
    pip = [_python(), "-m", "pip", "install", *quiet]
    # the same in a fifth of the time
    uv = [_python(), "-m", "uv", "--system-certs", "pip", "install", "--quiet", "--python", _python()]
    if _call([*pip, UV], check=False) != 0 or _call([*uv, *every], check=False) != 0:
        uv = pip
        _call([*pip, *every])
    _call([*uv, "--no-deps", "--no-build-isolation", "-e", "."])


def _install_npm() -> None:
    _need("npm", "Install Node.js 20 or newer with npm.")
    _call(["npm", "ci", "--silent", "--no-audit", "--no-fund"], cwd=WEB)


def _build_web() -> None:
    _call(["npm", "run", "--silent", "build"], cwd=WEB)


def _install_browser() -> None:
    """Debian's Chromium without windows, for the tests that drive the screens."""
    if any(Path(path).exists() for path in BROWSERS):
        return
    root = [] if os.geteuid() == 0 else ["sudo"]
    environment = {**os.environ, "DEBIAN_FRONTEND": "noninteractive"}
    for command in (["update", "-qq"], ["install", "-y", "-qq", "--no-install-recommends", "chromium-headless-shell"]):
        subprocess.run([*root, "apt-get", *command], check=True, env=environment, stdout=subprocess.DEVNULL)


def _need(program: str, advice: str) -> None:
    if shutil.which(program) is None:
        sys.exit(f"{program} is needed and was not found. {advice}")


def _python() -> str:
    return str(VENV / ("Scripts" if os.name == "nt" else "bin") / "python")


def _hinoki(arguments: list[str]) -> int:
    try:
        return _call([_python(), "-m", "hinoki.cli", *arguments], check=False)
    except KeyboardInterrupt:
        return 0


def _call(command: list[str], cwd: Path = ROOT, check: bool = True) -> int:
    code = subprocess.run(command, cwd=cwd).returncode
    if check and code:
        sys.exit(f"This did not work (exit code {code}): {' '.join(command)}")
    return code


if __name__ == "__main__":
    sys.exit(main())
