"""Where the database and the cache lie."""

from pathlib import Path

from platformdirs import user_data_path


def data_folder(chosen: Path | None, demo: bool) -> Path:
    """The chosen folder, or one where the system keeps users' data; the demo has one of its own."""
    return chosen if chosen is not None else user_data_path("hinoki-demo" if demo else "hinoki", appauthor=False)
