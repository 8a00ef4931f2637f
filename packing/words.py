"""`python -m packing.words`: write the catalogue of all that Hinoki says, for whoever puts it into another language."""

import datetime
import json
import subprocess
import sys
from pathlib import Path

from babel.messages import Catalog
from babel.messages.pofile import write_po

from hinoki import __version__
from hinoki.store.languages import TEMPLATE
from packing.sentences import sentences

ROOT = Path(__file__).parents[1]
HEADER = """\
# All that Hinoki says on its screens, in English. Copy this file to a name like de.po, translate it, and put it into the
# folder "languages" of the data folder. What changes in a sentence stands in holes such as {0}; keep each of them.
# docs/languages.md tells more."""


SAME_DATE = datetime.datetime(2026, 12, 2, tzinfo=datetime.UTC)
"""so that the file changes only with its sentences"""


def of_screens() -> dict[str, str]:
    """What the screens say themselves, each with the file it stands in. Needs Node and the packages of `web`."""
    done = subprocess.run(["node", "tools/sentences.mjs"], cwd=ROOT / "web", capture_output=True, text=True, check=True)
    return dict(json.loads(done.stdout))


def everything() -> Catalog:
    """The sentences of the screens and of Python, in the order of their files."""
    catalogue = Catalog(header_comment=HEADER, project="Hinoki", version=__version__, creation_date=SAME_DATE)
    found = {**sentences(), **of_screens()}
    for text, file in sorted(found.items(), key=lambda one: (one[1], one[0].lower(), one[0])):
        catalogue.add(text, locations=[(file, 0)])
    return catalogue


def main() -> int:
    """Write the catalogue where it is shipped."""
    TEMPLATE.parent.mkdir(exist_ok=True)
    with TEMPLATE.open("wb") as file:
        write_po(file, everything(), width=120, include_lineno=False)
    return 0


if __name__ == "__main__":
    sys.exit(main())
