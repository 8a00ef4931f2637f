#!/usr/bin/env python3
"""One entry for everything: setup, demo, serve, test, bench, types. Needs only Python 3.11, Node 20 and npm."""

import hashlib
import os
import re
import shutil
import subprocess
import sys
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

ROOT = Path(__file__).resolve().parent
VENV = ROOT / ".venv"
MARKS = ROOT / ".setup"
WEB = ROOT / "web"
LANES = (("core", "reference", "workers", "api"), ("ui",))
"""suites that run beside each other: what computes, and what waits for screens"""
SUITES = tuple(suite for lane in LANES for suite in lane)


def main() -> int:
    """Run the command named on the command line; gives its exit code."""
    commands = {"setup": setup, "demo": demo, "serve": serve, "test": test, "bench": bench, "types": types}
    if len(sys.argv) < 2 or sys.argv[1] not in commands:
        print(f"usage: python3 run.py {' | '.join(commands)}  [options]", file=sys.stderr)
        return 2
    if sys.version_info < (3, 11):  # noqa: UP036 - this file is started by whatever Python there is
        print("Hinoki needs Python 3.11 or newer.", file=sys.stderr)
        return 2
    return commands[sys.argv[1]](sys.argv[2:])


def setup(_more: list[str]) -> int:
    """Make the virtual environment, install what is pinned, build the screens; skips what is up to date."""
    _once("python", [ROOT / n for n in ("constraints.txt", "reference.txt", "pyproject.toml")], _install_python)
    _once("npm", [WEB / "package-lock.json"], _install_npm)
    sources = [p for p in (WEB / "src").rglob("*") if p.is_file()]
    sources += [WEB / n for n in ("index.html", "vite.config.ts", "package-lock.json", "openapi.json")]
    _once("web", sorted(sources), _build_web)
    return 0


def demo(more: list[str]) -> int:
    """Start the application with the demo project."""
    setup([])
    return _hinoki(["demo", *more])


def serve(more: list[str]) -> int:
    """Start the application."""
    setup([])
    return _hinoki(["serve", *more])


def bench(more: list[str]) -> int:
    """Measure speed against the bare kernel."""
    setup([])
    return _call([_python(), "-m", "bench.run", *more], check=False)


def types(_more: list[str]) -> int:
    """Make the OpenAPI document and the TypeScript types anew."""
    setup([])
    text = subprocess.run([_python(), "-m", "hinoki.api.openapi"], cwd=ROOT, check=True, capture_output=True).stdout
    (WEB / "openapi.json").write_bytes(text)
    return _call(["npm", "run", "--silent", "types"], cwd=WEB)


def test(more: list[str]) -> int:
    """Lint, types and all tests (or only the suites named); the last line counts them."""
    with ThreadPoolExecutor(1) as beside:  # its download waits for the network while the rest is made
        chromium = beside.submit(_install_chromium)
        setup([])
        chromium.result()
    wanted = [name for name in SUITES if not more or name in more]
    checks = {
        "ruff check": [_python(), "-m", "ruff", "check", "."],
        "ruff format": [_python(), "-m", "ruff", "format", "--check", "."],
        "mypy": [_python(), "-m", "mypy"],
        "vue-tsc": ["npx", "--no-install", "vue-tsc", "--noEmit"],
        "eslint": ["npx", "--no-install", "eslint", "."],
        "prettier": ["npx", "--no-install", "prettier", "--check", "--log-level", "warn", "src"],
    }
    passed = failed = skipped = 0
    if not more:
        with ThreadPoolExecutor(2) as pairs:
            results = pairs.map(lambda c: subprocess.run(c, cwd=WEB if c[0] == "npx" else ROOT).returncode, checks.values())
            for name, code in zip(checks, results, strict=True):
                print(f"{name}: {'good' if code == 0 else 'FAILED'}", flush=True)
                passed, failed = passed + (code == 0), failed + (code != 0)
    with ThreadPoolExecutor(len(LANES)) as lanes:
        running = [lanes.submit(_run_suites, [s for s in lane if s in wanted]) for lane in LANES]
        finished = {suite: done for lane in running for suite, done in lane.result().items()}
    for suite in wanted:
        done = finished[suite]
        print(f"--- tests/{suite}", flush=True)
        print(done.stderr[-12000:], end="", flush=True)
        counts = _counts(done.stderr)
        passed, failed, skipped = passed + counts[0], failed + counts[1], skipped + counts[2]
        if done.returncode != 0 and counts[1] == 0:
            failed += 1
    print(f"{passed} passed, {failed} failed, {skipped} skipped")
    return 1 if failed or not passed else 0


def _run_suites(suites: list[str]) -> dict[str, "subprocess.CompletedProcess[str]"]:
    """Run suites one after the other; what each printed, by its name."""
    done = {}
    for suite in suites:
        command = [_python(), "-W", "default", "-m", "unittest", "discover", "-s", f"tests/{suite}", "-t", "."]
        done[suite] = subprocess.run(command, cwd=ROOT, capture_output=True, text=True)
    return done


def _counts(text: str) -> tuple[int, int, int]:
    """Passed, failed, skipped of one unittest run, from its closing lines."""
    ran = re.search(r"^Ran (\d+) tests? in", text, re.MULTILINE)
    closing = text[ran.start() :] if ran else ""
    number = {key: int(n) for key, n in re.findall(r"(failures|errors|skipped|unexpected successes)=(\d+)", closing)}
    failed = number.get("failures", 0) + number.get("errors", 0) + number.get("unexpected successes", 0)
    skipped = number.get("skipped", 0)
    return (int(ran[1]) - failed - skipped if ran else 0), failed, skipped


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
    quiet = ["--quiet", "--disable-pip-version-check"]
    _call([_python(), "-m", "pip", "install", *quiet, "-r", "constraints.txt"])
    _call([_python(), "-m", "pip", "install", *quiet, "--no-deps", "-r", "reference.txt"])
    _call([_python(), "-m", "pip", "install", *quiet, "--no-deps", "--no-build-isolation", "-e", "."])


def _install_npm() -> None:
    _need("npm", "Install Node.js 20 or newer with npm.")
    _call(["npm", "ci", "--silent", "--no-audit", "--no-fund"], cwd=WEB)


def _build_web() -> None:
    _call(["npm", "run", "--silent", "build"], cwd=WEB)


def _install_chromium() -> None:
    """Debian's Chromium, for the tests that drive the screens."""
    if Path("/usr/bin/chromium").exists():
        return
    root = [] if os.geteuid() == 0 else ["sudo"]
    environment = {**os.environ, "DEBIAN_FRONTEND": "noninteractive"}
    for command in (["update", "-qq"], ["install", "-y", "-qq", "--no-install-recommends", "chromium"]):
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
