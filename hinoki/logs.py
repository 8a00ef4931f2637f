"""How everything of ours writes its log: a line for each, with what it is about as key=value; on the error stream."""

import logging
import sys

FORMAT = "%(asctime)s %(levelname)s %(name)s process=%(process)d %(message)s"


def configure(level: int = logging.INFO) -> None:
    """Write the log of this process; what libraries say is heard from a warning on."""
    logging.basicConfig(stream=sys.stderr, level=logging.WARNING, format=FORMAT)
    logging.getLogger("hinoki").setLevel(level)
