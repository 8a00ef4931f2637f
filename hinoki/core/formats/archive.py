"""ZIP archives read defensively: sizes are limited before anything is unpacked, and names are never used as paths."""

import io
import zipfile
import zlib

from hinoki.core.errors import UnreadableModel

MOST_UNPACKED = 1_000_000_000
MOST_RATIO = 400
"""XML of real models packs at most about 30 : 1"""
MOST_ENTRIES = 2000


def open_archive(data: bytes, what: str) -> zipfile.ZipFile:
    """The archive in `data`. Raises UnreadableModel when it is none, or would unpack to something huge."""
    try:
        archive = zipfile.ZipFile(io.BytesIO(data))
        entries = archive.infolist()
    except (zipfile.BadZipFile, ValueError, OSError, NotImplementedError, UnicodeDecodeError):
        raise UnreadableModel(
            f"This {what} file is not a whole ZIP archive: it is cut off or something else. Copy or export it again.",
            f"byte {len(data)}",
        ) from None
    total = sum(e.file_size for e in entries)
    if len(entries) > MOST_ENTRIES or total > MOST_UNPACKED or total > MOST_RATIO * max(len(data), 10_000):
        raise UnreadableModel(
            f"This {what} file of {len(data):,} bytes would unpack to {total:,} bytes in {len(entries):,} parts, "
            "which no model does. It was not opened.",
            "archive",
        )
    return archive


def unpacked(archive: zipfile.ZipFile, name: str, what: str) -> bytes:
    """One entry. Raises UnreadableModel when it is missing, damaged, locked, or larger than it says."""
    try:
        info = archive.getinfo(name)
        with archive.open(info) as entry:
            content = entry.read(info.file_size + 1)
    except KeyError:
        raise UnreadableModel(f"The part “{name[:80]}” is missing in this {what} file. Export it again.", name[:80]) from None
    except (zipfile.BadZipFile, zlib.error, EOFError, OSError, RuntimeError, NotImplementedError, ValueError):
        raise UnreadableModel(
            f"The part “{name[:80]}” of this {what} file is damaged. Copy or export it again.", name[:80]
        ) from None
    if len(content) != info.file_size:
        raise UnreadableModel(f"The part “{name[:80]}” is not as long as the {what} file says. Export it again.", name[:80])
    return content
