"""The built screens: where their files are, and how they are handed out."""

from pathlib import Path

from fastapi import FastAPI
from fastapi.staticfiles import StaticFiles
from starlette.responses import FileResponse, Response

from hinoki.api.shared import problems

PACKED = Path(__file__).parents[1] / "web"
"""where an installed package has them"""
WEB = PACKED if PACKED.is_dir() else Path(__file__).parents[2] / "web" / "dist"


def built() -> bool:
    """Whether there are any."""
    return (WEB / "index.html").exists()


def hand_out_screens(app: FastAPI) -> None:
    """Have `app` answer with the screens to all that nothing else answers to, if they are built."""
    if not built():
        return
    app.mount("/assets", StaticFiles(directory=WEB / "assets"), name="assets")

    @app.get("/{path:path}", include_in_schema=False)
    def screens(path: str) -> Response:
        if path.startswith("api/"):
            return problems.problem(404, "There is nothing under this address.", "not-found")
        icon = WEB / "icon.svg"
        if path == "icon.svg" and icon.exists():
            return FileResponse(icon)
        return FileResponse(WEB / "index.html", headers={"Cache-Control": "no-cache"})
